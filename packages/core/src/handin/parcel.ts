import { z } from 'zod';
import type { Limit } from '../limits/limit.ts';
import { describeSame, findSame, type Distinct } from './find-same.ts';
import { formatBytes } from '../units/bytes.ts';

export const ParcelText = z.object({
  note: z.string().max(4000),
  participants: z.string().max(1000),
  isOwnWork: z.boolean(),
});
export type ParcelText = z.infer<typeof ParcelText>;

/** What a slot holds: a file of one kind, or words that are written in Hand in. */
export const SlotItem = z.enum(['video', 'sound', 'photo', 'text', 'link']);
export type SlotItem = z.infer<typeof SlotItem>;

/** One kind of item that an assignment wants. */
export const Slot = z.object({
  id: z.string().min(1).max(40),
  label: z.string().min(1).max(120),
  item: SlotItem,
  min: z.int().nonnegative(),
  max: z.int().positive(),
  /** Slots with a letter are one way of several: all of "a", or all of "b". null is wanted in any case. */
  alternative: z.string().max(8).nullable().default(null),
});
export type Slot = z.infer<typeof Slot>;

/** Words of one's own, in a slot that holds a typed answer or a link. */
export const SlotAnswer = z.object({ slotId: z.string().min(1).max(40), text: z.string().max(20_000) });
export type SlotAnswer = z.infer<typeof SlotAnswer>;

/** Whether a slot holds words rather than a file. */
export const isWrittenSlot = (slot: Pick<Slot, 'item'>) => slot.item === 'text' || slot.item === 'link';

/** A web address (https or http) as it can be handed in; null where the words are none. */
export function readLink(words: string): string | null {
  try {
    const url = new URL(words.trim());
    return ['https:', 'http:'].includes(url.protocol) && url.hostname.includes('.') ? url.href : null;
  } catch {
    return null;
  }
}

/** Whether what was written in a slot counts as an answer: any words, or in a slot for a link an address. */
export function isAnswered(slot: Pick<Slot, 'id' | 'item'>, answers: readonly SlotAnswer[]): boolean {
  const text = answers.find((answer) => answer.slotId === slot.id)?.text ?? '';
  return slot.item === 'link' ? readLink(text) !== null : text.trim() !== '';
}

export interface ParcelItem extends Distinct {
  readonly slotId: string;
  readonly sizeBytes: number;
  readonly everyMustMet: boolean;
}

export interface ParcelState {
  readonly slots: readonly Slot[];
  readonly items: readonly ParcelItem[];
  readonly answers: readonly SlotAnswer[];
  readonly text: ParcelText;
  readonly limits: readonly Limit[];
}

function countIn(parcel: ParcelState, slot: Slot): number {
  if (isWrittenSlot(slot)) return isAnswered(slot, parcel.answers) ? 1 : 0;
  return parcel.items.filter((item) => item.slotId === slot.id).length;
}

function describeGap(parcel: ParcelState, slot: Slot): string | null {
  if (isWrittenSlot(slot)) return describeWrittenGap(parcel, slot);
  const gap = slot.min - countIn(parcel, slot);
  if (gap <= 0) return null;
  return gap === 1 ? `put in: ${slot.label}` : `put in ${gap} more: ${slot.label}`;
}

function describeWrittenGap(parcel: ParcelState, slot: Slot): string | null {
  if (slot.min === 0 || isAnswered(slot, parcel.answers)) return null;
  if (slot.item === 'text') return `write: ${slot.label}`;
  const isBegun = parcel.answers.some((answer) => answer.slotId === slot.id && answer.text.trim() !== '');
  return isBegun ? `give a whole web address: ${slot.label}` : `put in the link: ${slot.label}`;
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
    const same = limit.kind === 'different' ? findSame(parcel.items) : null;
    if (same) missing.push(`put in another one: ${describeSame(same)}`);
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
