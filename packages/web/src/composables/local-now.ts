import type { Limit } from '@apodix/core';

/**
 * The wall clock of this device to the minute, as the reader of instructions counts from it:
 * `2026-11-24T09:00`.
 */
export function readLocalNow(now = new Date()): string {
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** The instant of a wall-clock time on this device. */
export function convertLocalToInstant(at: string): string {
  return new Date(at).toISOString();
}

/** The instant by which limits want a hand-in; null where they name none. */
export function findDueInstant(limits: readonly Limit[]): string | null {
  const due = limits.find((limit) => limit.kind === 'due');
  return due?.kind === 'due' ? convertLocalToInstant(due.at) : null;
}
