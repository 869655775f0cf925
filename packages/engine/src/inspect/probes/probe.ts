import type { Chain } from '../../graph/filter-graph.ts';

/** One output of a probe: where it comes from, how it is written, and who reads it. */
export interface ProbeOutput {
  /** A pad of the probe's chains; null means the picture as it is coded. */
  readonly pad: string | null;
  readonly args: readonly string[];
  readonly onData: (data: Buffer) => void;
}

/** Bytes are handed over by bufferfuls: a reader that wakes for every packet costs as much as it measures. */
export const UNHURRIED: readonly string[] = ['-flush_packets', '0'];

/**
 * Something that is measured along the one decoding of a file. It takes picture or sound from a pad, or the
 * picture as it is coded, and ends in outputs that are read as they come.
 */
export interface Probe {
  readonly takes: 'picture' | 'sound' | 'coded-picture';
  readonly buildChains: (from: string) => readonly Chain[];
  readonly outputs: readonly ProbeOutput[];
}
