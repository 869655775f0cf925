import { findSlotItem, type MediaKind } from '../media/containers.ts';
import type { Slot } from './parcel.ts';

export interface PlacedItem {
  readonly slotId: string;
  readonly madeId: string;
}

/** The slots of an assignment with what lies in them, and which made file is of which take. */
export interface Placing {
  readonly slots: readonly Slot[];
  readonly items: readonly PlacedItem[];
  readonly made: readonly { readonly id: string; readonly takeId: string }[];
}

/**
 * The slot that what is made of a take is meant for: where it is, else the first of its kind that has room.
 */
export function findSlotOf(
  { slots, items, made }: Placing,
  take: { readonly id: string; readonly kind: MediaKind | null },
): string | null {
  const own = made.filter((file) => file.takeId === take.id).map((file) => file.id);
  const there = items.find((item) => own.includes(item.madeId));
  if (there) return there.slotId;
  const { kind } = take;
  const fitting = slots.filter((slot) => kind !== null && slot.item === findSlotItem(kind));
  const countIn = (slotId: string) => items.filter((item) => item.slotId === slotId).length;
  return (fitting.find((slot) => countIn(slot.id) < slot.max) ?? fitting[0])?.id ?? null;
}

/**
 * The items of a parcel once a proven file has been put into the first fitting slot, in place of an earlier
 * one from the same take; null where no slot has room for it.
 */
export function placeInParcel(
  { slots, items, made }: Placing,
  file: { readonly id: string; readonly takeId: string; readonly kind: MediaKind },
): readonly PlacedItem[] | null {
  const siblings = new Set(made.filter((each) => each.takeId === file.takeId).map((each) => each.id));
  const others = items.filter((item) => !siblings.has(item.madeId));
  const fitting = slots.filter((slot) => slot.item === findSlotItem(file.kind));
  const countIn = (slot: Slot) => others.filter((item) => item.slotId === slot.id).length;
  const slot = fitting.find((each) => countIn(each) < each.max) ?? fitting[0];
  if (!slot) return null;
  const isFull = countIn(slot) >= slot.max;
  if (isFull && slot.max > 1) return null;
  const kept = isFull ? others.filter((item) => item.slotId !== slot.id) : others;
  return [...kept, { slotId: slot.id, madeId: file.id }];
}
