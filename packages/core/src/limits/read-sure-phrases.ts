import { parseContainerName, containerTable, type ContainerId } from '../media/containers.ts';
import type { Limit } from './limit.ts';
import { Limit as LimitSchema } from './limit.ts';

export interface SurePhrases {
  readonly limits: Limit[];
  /** What stands in the text and was not read. */
  readonly notUnderstood: string[];
}

const COUNT = String.raw`(\d+(?:[.,]\d+)?)`;
const SIZE = new RegExp(String.raw`^(?:at most|no more than|no larger than|no bigger than|up to|max(?:imum)?(?: of)?|under|below)\s+${COUNT}\s*(kb|mb|gb|kib|mib|gib)$`, 'i');
const CLOCK = String.raw`(\d+:\d{2}(?::\d{2})?|${COUNT}\s*(?:s|sec|seconds?|min|minutes?|hours?|h))`;
const LONGEST = new RegExp(String.raw`^(?:at most|no longer than|no more than|up to|max(?:imum)?(?: of)?)\s+${CLOCK}$`, 'i');
const SHORTEST = new RegExp(String.raw`^(?:at least|no shorter than|min(?:imum)?(?: of)?)\s+${CLOCK}$`, 'i');
const LENGTH_SPAN = new RegExp(String.raw`^(?:between\s+)?${CLOCK}\s*(?:to|and|-|–)\s*${CLOCK}(?:\s+long)?$`, 'i');
const LINES = /^(?:(at most|no more than|up to|max(?:imum)?|at least|min(?:imum)?)\s+)?(\d{3,4})\s*(?:p|lines)(?:\s+(at most|at least))?$/i;
const EDGE = /^(?:(?:the\s+)?(long|short)\s+edge\s+)?(at most|no more than|up to|max(?:imum)?|at least|min(?:imum)?)\s+(\d{2,5})\s*(?:px|pixels?)(?:\s+(?:on|at)\s+the\s+(long|short)(?:est)?\s+edge)?$/i;
const UNIT_BYTES: Record<string, number> = { kb: 1e3, mb: 1e6, gb: 1e9, kib: 1024, mib: 1024 ** 2, gib: 1024 ** 3 };

type RawLimit = Record<string, unknown> & { kind: string };
type PhraseRule = (phrase: string) => RawLimit | null;

const rules: readonly PhraseRule[] = [
  (phrase) => {
    const ids = phrase.replace(/^(?:an?|one)\s+/i, '').split(/\s+or\s+/i).map((word) => parseContainerName(word.replace(/\s+file$/i, '')));
    return ids.every((id) => id !== null) ? { kind: 'format', wanted: ids as ContainerId[], appliesTo: readTarget(ids as ContainerId[]) } : null;
  },
  (phrase) => {
    const match = SIZE.exec(phrase);
    return match ? { kind: 'file-size', maxBytes: Math.floor(readNumber(match[1]) * (UNIT_BYTES[(match[2] ?? '').toLowerCase()] ?? 1)) } : null;
  },
  (phrase) => {
    const longest = LONGEST.exec(phrase);
    if (longest) return { kind: 'length', maxUs: readClockUs(longest[1] ?? '') };
    const shortest = SHORTEST.exec(phrase);
    if (shortest) return { kind: 'length', minUs: readClockUs(shortest[1] ?? '') };
    const span = LENGTH_SPAN.exec(phrase);
    return span ? { kind: 'length', minUs: readClockUs(span[1] ?? ''), maxUs: readClockUs(span[3] ?? '') } : null;
  },
  (phrase) => {
    const match = LINES.exec(phrase);
    return match ? { kind: 'picture-edge', edge: 'lines', ...readBound(match[1] ?? match[3] ?? 'at most', Number(match[2])) } : null;
  },
  (phrase) => {
    const match = EDGE.exec(phrase);
    const edge = match?.[1] ?? match?.[4];
    return match && edge ? { kind: 'picture-edge', edge: edge.toLowerCase(), ...readBound(match[2] ?? '', Number(match[3])) } : null;
  },
  (phrase) => (/^(?:with|has to have|must have) sound$/i.test(phrase) ? { kind: 'sound-present', isWanted: true } : null),
  (phrase) => (/^(?:without|no) sound$/i.test(phrase) ? { kind: 'sound-present', isWanted: false } : null),
  (phrase) => (/^(?:landscape|sideways|filmed sideways)$/i.test(phrase) ? { kind: 'orientation', wanted: 'landscape' } : null),
  (phrase) => (/^(?:portrait|upright|filmed upright)$/i.test(phrase) ? { kind: 'orientation', wanted: 'portrait' } : null),
];

/**
 * Reads a few sure phrases, divided by commas, semicolons or line ends: `MP4, at most 20 MB, no longer than 2 minutes`.
 * Whatever is not read is given back word for word. MB is 10^6 bytes, MiB 2^20.
 */
export function readSurePhrases(text: string): SurePhrases {
  const limits: Limit[] = [];
  const notUnderstood: string[] = [];
  const phrases = text.split(/[;\n]|,(?!\d)/).map((phrase) => phrase.trim().replace(/\.$/, '')).filter(Boolean);
  for (const phrase of phrases) {
    const raw = rules.map((rule) => rule(phrase)).find((each) => each !== null);
    const parsed = raw ? LimitSchema.safeParse({ id: `asks-${limits.length + 1}`, words: phrase, ...raw }) : null;
    if (parsed?.success) limits.push(parsed.data);
    else notUnderstood.push(phrase);
  }
  return { limits, notUnderstood };
}

function readTarget(ids: readonly ContainerId[]): string {
  const kinds = new Set(ids.map((id) => containerTable[id].kind));
  const [only] = kinds;
  return kinds.size === 1 && only && only !== 'document' ? only : 'any';
}

function readBound(word: string, value: number): { min: number } | { max: number } {
  return /least|min/i.test(word) ? { min: value } : { max: value };
}

function readNumber(raw: string | undefined): number {
  return Number((raw ?? '').replace(',', '.'));
}

function readClockUs(raw: string): number {
  if (raw.includes(':')) return raw.split(':').reduce((total, part) => total * 60 + Number(part), 0) * 1_000_000;
  const value = readNumber(/[\d.,]+/.exec(raw)?.[0]);
  const unit = raw.replace(/[\d.,\s]+/, '').toLowerCase();
  const seconds = unit.startsWith('h') ? 3600 : unit.startsWith('m') ? 60 : 1;
  return Math.round(value * seconds * 1_000_000);
}
