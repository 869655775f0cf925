import type { TakeView } from '@apodix/core';

const fold = (words: string) => words.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

/** Takes whose name, note or kind holds every word that is looked for, whatever its accents. */
export function searchTakes<T extends Pick<TakeView, 'name' | 'note' | 'kind'>>(
  takes: readonly T[],
  search: string,
): readonly T[] {
  const words = fold(search).split(/\s+/).filter(Boolean);
  return takes.filter((take) => {
    const text = fold(`${take.name} ${take.note ?? ''} ${take.kind ?? ''}`);
    return words.every((word) => text.includes(word));
  });
}
