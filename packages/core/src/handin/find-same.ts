import { isAlike } from '../picture/likeness.ts';

/** What files of a parcel can be told apart by. */
export interface Distinct {
  readonly fileName: string;
  /** Of the recording that it was made from; null where that is not known. */
  readonly sourceSha256: string | null;
  /** How its picture looks (`measureLikeness`); null where that cannot be told. */
  readonly likeness: string | null;
}

export interface SamePair {
  readonly first: Distinct;
  readonly second: Distinct;
  readonly isExact: boolean;
}

/** Two files that were made from the same recording, or that look all but the same; null where none are. */
export function findSame(items: readonly Distinct[]): SamePair | null {
  for (const [index, first] of items.entries())
    for (const second of items.slice(index + 1)) {
      const isExact = first.sourceSha256 !== null && first.sourceSha256 === second.sourceSha256;
      if (isExact || isAlike(first.likeness, second.likeness)) return { first, second, isExact };
    }
  return null;
}

export const describeSame = ({ first, second, isExact }: SamePair): string =>
  isExact
    ? `${first.fileName} and ${second.fileName} come from the same recording`
    : `${first.fileName} and ${second.fileName} look nearly the same`;
