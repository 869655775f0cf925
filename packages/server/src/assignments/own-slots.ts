import { findMediaKind, findSlotItem, type Limit, type MediaKind, type Slot } from '@apodix/core';

const LABELS: Readonly<Record<MediaKind | 'text' | 'link', string>> = {
  document: 'Document',
  video: 'Video',
  sound: 'Sound recording',
  photo: 'Photograph',
  text: 'Typed answer',
  link: 'Link',
};

/** The slots of an assignment of one's own: what its limits speak of, else any one file. */
export function buildOwnSlots(limits: readonly Limit[]): Slot[] {
  const counts = limits.filter((limit) => limit.kind === 'count');
  if (counts.length > 0) {
    return counts.map((limit, index) => ({
      id: `slot-${index + 1}`,
      label: limit.label ?? LABELS[limit.item],
      item: limit.item === 'text' || limit.item === 'link' ? limit.item : findSlotItem(limit.item),
      min: limit.min,
      max: limit.max ?? Math.max(limit.min, 20),
      alternative: limit.alternative,
    }));
  }
  const wanted = new Set(
    limits.flatMap((limit) =>
      limit.kind === 'format' ? limit.wanted.map((id) => findSlotItem(findMediaKind(id))) : [],
    ),
  );
  const kinds = (['video', 'photo', 'sound'] as const).filter((kind) => wanted.has(kind));
  return (kinds.length > 0 ? kinds : (['video', 'photo', 'sound'] as const)).map((kind) => ({
    id: kind,
    label: LABELS[kind],
    item: kind,
    min: 0,
    max: 20,
    alternative: null,
  }));
}
