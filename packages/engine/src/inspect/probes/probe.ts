import type { Chain } from '../../graph/filter-graph.ts';

/** One output of a probe: a pad of its graph, how it is written, and who reads it. */
export interface ProbeOutput {
  readonly pad: string;
  readonly args: readonly string[];
  readonly onData: (data: Buffer) => void;
}

/**
 * Something that is measured along the one decoding of a file. It takes picture or sound from a pad and ends
 * in outputs that are read as they come.
 */
export interface Probe {
  readonly takes: 'picture' | 'sound';
  readonly buildChains: (from: string) => readonly Chain[];
  readonly outputs: readonly ProbeOutput[];
}
