import type { RichBlock, RichRun } from '@apodix/core';
import type { JSONContent } from '@tiptap/vue-3';

const LISTS = { bulletList: 'bullet', orderedList: 'number' } as const;

/** What an editor holds, as the blocks that a sheet keeps; what a sheet does not know becomes plain text. */
export function readDocument(document: JSONContent): RichBlock[] {
  return (document.content ?? []).flatMap((node) => readNode(node, null));
}

function readNode(node: JSONContent, list: 'bullet' | 'number' | null): RichBlock[] {
  const { type = '', content = [] } = node;
  if (type in LISTS) return content.flatMap((item) => readNode(item, LISTS[type as keyof typeof LISTS]));
  if (content.some((each) => !isInline(each))) {
    // Of an item of a list its first paragraph bears the sign.
    return content.flatMap((each, index) => readNode(each, index === 0 ? list : null));
  }
  return [{ kind: list ?? (type === 'heading' ? 'heading' : 'paragraph'), runs: content.map(readRun) }];
}

const isInline = ({ type }: JSONContent) => type === 'text' || type === 'hardBreak';

function readRun({ type, text = '', marks = [] }: JSONContent): RichRun {
  const has = (name: string) => marks.some((mark) => mark.type === name);
  return { text: type === 'hardBreak' ? '\n' : text, isBold: has('bold'), isItalic: has('italic') };
}

/** Blocks as an editor takes them; neighbours of one list stand in one. */
export function writeDocument(blocks: readonly RichBlock[]): JSONContent {
  const content: JSONContent[] = [];
  for (const { kind, runs } of blocks) {
    const paragraph = { type: 'paragraph', content: runs.flatMap(writeRun) };
    if (kind === 'paragraph') content.push(paragraph);
    else if (kind === 'heading') content.push({ ...paragraph, type: 'heading', attrs: { level: 2 } });
    else {
      const type = kind === 'bullet' ? 'bulletList' : 'orderedList';
      const last = content.at(-1);
      const item = { type: 'listItem', content: [paragraph] };
      if (last?.type === type) last.content?.push(item);
      else content.push({ type, content: [item] });
    }
  }
  return { type: 'doc', content: content.length > 0 ? content : [{ type: 'paragraph' }] };
}

function writeRun({ text, isBold, isItalic }: RichRun): JSONContent[] {
  const marks = [...(isBold ? [{ type: 'bold' }] : []), ...(isItalic ? [{ type: 'italic' }] : [])];
  return text.split(/(\n)/).flatMap((part) => {
    if (part === '') return [];
    return [
      part === '\n'
        ? { type: 'hardBreak' }
        : { type: 'text', text: part, ...(marks.length > 0 ? { marks } : {}) },
    ];
  });
}
