import type { CaptureMode } from '@apodix/core';

/** What is known of a recording that lies in this browser and has not been sent. */
export interface KeptRecording {
  readonly id: string;
  readonly personId: string;
  /** null for a take that serves nothing yet. */
  readonly assignmentId: string | null;
  readonly mode: CaptureMode;
  readonly origin: 'camera' | 'practice';
  readonly name: string;
  readonly mimeType: string;
  readonly startedAt: string;
  readonly durationMs: number;
  /** It was ended by the person; else the page or the browser went away while it ran. */
  readonly isWhole: boolean;
  /** Thrown away; for a day it can be brought back. */
  readonly removedAt: string | null;
}

export type ListedRecording = KeptRecording & { readonly sizeBytes: number };

/**
 * Where recordings lie while they are made: in pieces, each safe once `append` has resolved, whatever becomes
 * of the page. A recording belongs to a person and is told to nobody else.
 */
export interface PieceStore {
  begin(recording: KeptRecording): Promise<void>;
  append(id: string, piece: Blob): Promise<void>;
  /** Writes down what has changed of a recording; `isClosed` says that no piece follows. */
  update(recording: KeptRecording, isClosed: boolean): Promise<void>;
  /** Newest first. */
  list(personId: string): Promise<ListedRecording[]>;
  /** All pieces in order, as one file. */
  read(recording: KeptRecording): Promise<File>;
  remove(recording: KeptRecording): Promise<void>;
}

/** The name of the lock that is held while a recording runs, in whatever tab. */
export const nameLock = (id: string) => `apodix-recording-${id}`;

export const REMOVED_MS = 24 * 3_600_000;

/** Newest first, without those that were thrown away long ago. */
export function sortRecordings(recordings: readonly ListedRecording[]): ListedRecording[] {
  return [...recordings].sort((left, right) => (left.startedAt < right.startedAt ? 1 : -1));
}
