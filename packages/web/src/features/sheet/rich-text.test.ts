import type { RichBlock } from '@apodix/core';
import { Editor } from '@tiptap/vue-3';
import StarterKit from '@tiptap/starter-kit';
import { expect, it } from 'vitest';
import { readDocument, writeDocument } from './rich-text.ts';

const run = (text: string, isBold = false, isItalic = false) => ({ text, isBold, isItalic });
const blocks: RichBlock[] = [
  { kind: 'heading', runs: [run('What I looked for')] },
  {
    kind: 'paragraph',
    runs: [run('The '), run('light', true), run(' and ', false, true), run('shade', true, true)],
  },
  { kind: 'bullet', runs: [run('a wash')] },
  { kind: 'bullet', runs: [run('lines')] },
  { kind: 'number', runs: [run('measure')] },
  { kind: 'paragraph', runs: [] },
];

it('goes through a real editor and back unchanged', () => {
  const editor = new Editor({ extensions: [StarterKit], content: writeDocument(blocks) });
  expect(editor.getHTML()).toContain('<strong>light</strong>');
  expect(editor.getHTML()).toContain('<ul><li><p>a wash</p></li><li><p>lines</p></li></ul>');
  expect(readDocument(editor.getJSON())).toEqual(blocks);
  editor.destroy();
});

it('takes in what is pasted from elsewhere: other kinds become text, nothing is lost', () => {
  const editor = new Editor({
    extensions: [StarterKit],
    content:
      '<blockquote><p>said<br>so</p></blockquote><ol><li><p>one</p><p>more</p><ul><li><p>in it</p></li></ul></li></ol><pre><code>x = 1</code></pre>',
  });
  expect(readDocument(editor.getJSON())).toEqual([
    { kind: 'paragraph', runs: [run('said'), run('\n'), run('so')] },
    { kind: 'number', runs: [run('one')] },
    { kind: 'paragraph', runs: [run('more')] },
    { kind: 'bullet', runs: [run('in it')] },
    { kind: 'paragraph', runs: [run('x = 1')] },
  ]);
  editor.destroy();
});

it('nothing is an empty paragraph, and comes back as one', () => {
  expect(writeDocument([])).toEqual({ type: 'doc', content: [{ type: 'paragraph' }] });
  expect(readDocument({ type: 'doc', content: [{ type: 'paragraph' }] })).toEqual([
    { kind: 'paragraph', runs: [] },
  ]);
});
