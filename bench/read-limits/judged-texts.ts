import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** A text of the shared sets with what it asks for; the sets take today to be 10 January 2027. */
export interface JudgedText {
  readonly id: string;
  readonly text: string;
  readonly expect: JudgedFacts;
  readonly allow?: Readonly<Partial<Record<keyof JudgedFacts, '*'>>> & JudgedFactsOpen;
}

interface JudgedFacts {
  readonly slots?: readonly { readonly kind: string }[];
  readonly duration?: { readonly minSec?: number; readonly maxSec?: number; readonly approx?: boolean };
  readonly size?: readonly { readonly maxBytes: number }[];
}
interface JudgedFactsOpen {
  readonly slots?: readonly { readonly kind: string }[] | '*';
  readonly duration?: unknown;
  readonly size?: unknown;
}

/** Beside the project, not in it. */
export const sharedFolder = join(import.meta.dirname, '../../../shared/reading');
export const setNames = ['set-a', 'set-b', 'set-c'] as const;

/** The texts of a shared set; null where the sets are not there. */
export function readJudgedSet(name: (typeof setNames)[number]): JudgedText[] | null {
  const path = join(sharedFolder, `${name}.json`);
  return existsSync(path) ? (JSON.parse(readFileSync(path, 'utf8')) as JudgedText[]) : null;
}
