import { onScopeDispose } from 'vue';
import { useKeySettings } from './key-settings.ts';
import { controlKeys, type KeyAction } from './key-actions.ts';

type ControlAction = keyof typeof controlKeys;
export type KeyTable = Readonly<
  Partial<Record<KeyAction | ControlAction, (event: KeyboardEvent) => unknown>>
>;

/** The name of a key press: `s`, `,`, `Ctrl+z`, `Ctrl+Shift+z`, ` `. */
export function nameKey(event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey'>): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.ctrlKey || event.metaKey) return `Ctrl+${event.shiftKey ? 'Shift+' : ''}${key}`;
  return key;
}

const TYPING =
  'input:not([type=range]):not([type=checkbox]), textarea, select, [contenteditable=true], [role=listbox], [role=dialog]';

/** Keys for a page; silent while something is typed or a control that uses the key has the focus. */
export function useKeys(table: KeyTable): void {
  const settings = useKeySettings();
  const findAction = (name: string): KeyAction | ControlAction | null => {
    const control = (Object.keys(controlKeys) as ControlAction[]).find((each) =>
      (controlKeys[each] as readonly string[]).includes(name),
    );
    return control ?? settings.actionOf(name);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.altKey || event.defaultPrevented) return;
    const target = event.target instanceof HTMLElement ? event.target : null;
    if (target?.closest(TYPING)) return;
    const name = nameKey(event);
    if (name === ' ' && target?.closest('button, a, [role=button], input, summary')) return;
    if (name.startsWith('Arrow') && target?.closest('[role=slider], input')) return;
    const action = findAction(name);
    const act = action && table[action];
    if (!act) return;
    event.preventDefault();
    act(event);
  };
  window.addEventListener('keydown', onKey);
  onScopeDispose(() => window.removeEventListener('keydown', onKey));
}
