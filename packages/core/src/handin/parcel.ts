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

/** What is still missing before a parcel can be handed in, as short commands; empty where nothing is. */
export function findMissing(parcel: ParcelState): string[] {
  const missing: string[] = [];
  for (const slot of parcel.slots) {
    const count = parcel.items.filter((item) => item.slotId === slot.id).length;
    if (count < slot.min) missing.push(slot.min - count === 1 ? `put in: ${slot.label}` : `put in ${slot.min - count} more: ${slot.label}`);
    if (count > slot.max) missing.push(`take out ${count - slot.max}: ${slot.label}`);
  }
  for (const item of parcel.items) if (!item.everyMustMet) missing.push(`put right what falls short in ${item.fileName}`);
  const names = new Set<string>();
  for (const item of parcel.items) {
    const key = item.fileName.normalize('NFC').toLowerCase();
    if (names.has(key)) missing.push(`give ${item.fileName} another name: two files are called the same`);
    names.add(key);
  }
  for (const limit of parcel.limits) {
    if (limit.severity !== 'must') continue;
    if (limit.kind === 'participants' && parcel.text.participants.trim() === '') missing.push('write who took part');
    if (limit.kind === 'note' && parcel.text.note.trim() === '') missing.push('write a note to the teacher');
    if (limit.kind === 'total-size') {
      const total = parcel.items.reduce((sum, item) => sum + item.sizeBytes, 0);
      if (total > limit.maxBytes) missing.push(`make the files smaller: together they have ${formatBytes(total)}, at most ${formatBytes(limit.maxBytes)} is allowed`);
    }
  }
  if (!parcel.text.isOwnWork) missing.push('tick the statement of own work');
  return missing;
}
