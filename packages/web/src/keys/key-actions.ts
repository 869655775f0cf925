/** Everything that has a key of its own, with the usual key and what it does. */
export const keyActions = {
  'stop-1': { key: '1', words: 'go to Brief' },
  'stop-2': { key: '2', words: 'go to Takes' },
  'stop-3': { key: '3', words: 'go to Shape' },
  'stop-4': { key: '4', words: 'go to Fit' },
  'stop-5': { key: '5', words: 'go to Hand in' },
  'start-here': { key: 's', words: 'start here' },
  'finish-here': { key: 'f', words: 'finish here' },
  'divide-here': { key: 'd', words: 'divide what is kept here' },
  'frame-back': { key: ',', words: 'one frame back' },
  'frame-on': { key: '.', words: 'one frame on' },
  nearer: { key: '+', words: 'come nearer on the strip' },
  farther: { key: '-', words: 'go farther on the strip' },
  play: { key: ' ', words: 'play what is kept' },
  'play-again': { key: 'l', words: 'play what is kept over and over' },
  before: { key: 'b', words: 'as recorded, or as it will be handed in' },
  'side-by-side': { key: 'c', words: 'before and after side by side' },
  record: { key: 'r', words: 'start or stop recording, in Takes' },
  search: { key: '/', words: 'search in Today' },
  help: { key: '?', words: 'show these keys' },
} as const;

export type KeyAction = keyof typeof keyActions;

/** Keys with Control: they are typed by nobody by accident, and stay. */
export const controlKeys = { undo: ['Ctrl+z'], redo: ['Ctrl+Shift+z', 'Ctrl+y'] } as const;

/** A key as it is written on the keyboard. */
export const writeKey = (key: string) => (key === ' ' ? 'Space' : key.length === 1 ? key.toUpperCase() : key);
