import { z } from 'zod';
import type { Limit } from '../limits/limit.ts';
import { formatBytes } from '../units/bytes.ts';

export const ParcelText = z.object({
  note: z.string().max(4000),
  participants: z.string().max(1000),
  isOwnWork: z.boolean(),
});
export type ParcelText = z.infer<typeof ParcelText>;

/** One kind of item that an assignment wants. */
export const Slot = z.object({
  id: z.string().min(1).max(40),
  label: z.string().min(1).max(120),
  item: z.enum(['video', 'sound', 'photo']),
  min: z.int().nonnegative(),
  max: z.int().positive(),
  /** Slots with a letter are one way of several: all of "a", or all of "b". null is wanted in any case. */
  alternative: z.string().max(8).nullable().default(null),
});
export type Slot = z.infer<typeof Slot>;

export interface ParcelItem {
  readonly slotId: string;
  readonly fileName: string;
  readonly sizeBytes: number;
  readonly everyMustMet: boolean;
}

export interface ParcelState {
  readonly slots: readonly Slot[];
  readonly items: readonly ParcelItem[];
  readonly text: ParcelText;
  readonly limits: readonly Limit[];
}

const countIn = (parcel: ParcelState, slot: Slot) =>
  parcel.items.filter((item) => item.slotId === slot.id).length;

function describeGap(parcel: ParcelState, slot: Slot): string | null {
  const gap = slot.min - countIn(parcel, slot);
  if (gap <= 0) return null;
  return gap === 1 ? `put in: ${slot.label}` : `put in ${gap} more: ${slot.label}`;
}

/**
 * Slots that lack items or hold too many. Of alternatives one has to be complete; the one that lacks least is
 * told first.
 */
function findMissingItems(parcel: ParcelState): string[] {
  const missing = parcel.slots
    .filter((slot) => slot.alternative === null)
    .map((slot) => describeGap(parcel, slot))
    .filter((gap) => gap !== null);
  const letters = [
    ...new Set(parcel.slots.map((slot) => slot.alternative).filter((letter) => letter !== null)),
  ];
  const ways = letters.map((letter) => {
    const slots = parcel.slots.filter((slot) => slot.alternative === letter);
    return {
      gaps: slots.map((slot) => describeGap(parcel, slot)).filter((gap) => gap !== null),
      begun: slots.reduce((sum, slot) => sum + countIn(parcel, slot), 0),
    };
  });
  if (ways.length > 0 && ways.every((way) => way.gaps.length > 0)) {
    const begun = ways.filter((way) => way.begun > 0);
    missing.push((begun.length === 1 ? begun : ways).map((way) => way.gaps.join(' and ')).join(', or '));
  }
  for (const slot of parcel.slots) {
    const extra = countIn(parcel, slot) - slot.max;
    if (extra > 0) missing.push(`take out ${extra}: ${slot.label}`);
  }
  return missing;
}

/** What is still missing before a parcel can be handed in, as short commands; empty where nothing is. */
export function findMissing(parcel: ParcelState): string[] {
  const missing = findMissingItems(parcel);
  for (const item of parcel.items)
    if (!item.everyMustMet) missing.push(`put right what falls short in ${item.fileName}`);
  const names = new Set<string>();
  for (const item of parcel.items) {
    const key = item.fileName.normalize('NFC').toLowerCase();
    if (names.has(key)) missing.push(`give ${item.fileName} another name: two files are called the same`);
    names.add(key);
  }
  for (const limit of parcel.limits) {
    if (limit.severity !== 'must') continue;
    if (limit.kind === 'participants' && parcel.text.participants.trim() === '')
      missing.push('write who took part');
    if (limit.kind === 'note' && parcel.text.note.trim() === '') missing.push('write a note to the teacher');
    if (limit.kind === 'total-size') {
      const total = parcel.items.reduce((sum, item) => sum + item.sizeBytes, 0);
      if (total > limit.maxBytes)
        missing.push(
          `make the files smaller: together they have ${formatBytes(total)}, at most ${formatBytes(limit.maxBytes)} is allowed`,
        );
    }
  }
  if (!parcel.text.isOwnWork) missing.push('tick the statement of own work');
  return missing;
}
