import type { ProofFinding } from '../limits/finding.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { About } from '../recipe/about.ts';
import type { Timeline } from '../timeline/timeline.ts';
import type { ColorMatch } from './hold-color.ts';
import type { GeometryMatch } from './hold-geometry.ts';
import type { HiddenMatch } from './hold-hidden.ts';
import type { SoundMatch } from './hold-sound.ts';
import type { FrameMatch } from './match-frames.ts';

/** How clear the picture is beside the recording, or that coded pictures were taken over as they are. */
export type ClarityEvidence =
  | {
      readonly kind: 'ssim';
      readonly ssimMean: number;
      readonly ssimWorst: number;
      readonly framesCompared: number;
      /** What samples promised; null where there were none. */
      readonly promised: number | null;
    }
  | {
      readonly kind: 'taken-over';
      readonly sameCount: number;
      readonly wantedCount: number;
      readonly total: number;
    };

/** Everything that the proof of a made file rests on. What nobody measured is null. */
export interface ProofEvidence {
  readonly facts: MediaFacts;
  /** null for photographs and documents. */
  readonly timeline: Timeline | null;
  /** Frames that came out of decoding, and lines that told of errors. */
  readonly decoded: { readonly frameCount: number; readonly errorCount: number } | null;
  readonly frames: FrameMatch | null;
  readonly color: ColorMatch | null;
  readonly geometry: GeometryMatch | null;
  /** What is left to be seen of areas that were to be hidden; undefined where none were. */
  readonly hidden?: HiddenMatch | null;
  /** Width over height as shown, and what it is to be; null where nothing is shown in fixed proportions. */
  readonly proportions: { readonly found: number; readonly wanted: number } | null;
  /** undefined where clarity is not asked for. */
  readonly clarity: ClarityEvidence | null | undefined;
  /** The recording's light goes further than a standard display's. */
  readonly isToneMapped: boolean;
  /** Whether colors or frame were to be changed beyond turning and mirroring. */
  readonly isReshaped?: boolean;
  /** Whether sound was to come along; then what came of holding it. */
  readonly isSoundWanted: boolean;
  readonly sound: SoundMatch | null;
  /** Loudness of the kept part with the gain that was asked for; null where it is silence. */
  readonly expectedLufs: number | null;
  /** What was to be told about the piece in the file; undefined where nothing was. */
  readonly about?: About | null;
  /** Pages: how many there are, and how many there were to be; null for what has none. */
  readonly pages: { readonly found: number; readonly wanted: number } | null;
}

/** One row of the proof before it becomes a finding. */
export interface Row {
  readonly state: ProofFinding['state'];
  readonly label: string;
  readonly figure: string | null;
  readonly value?: number | null;
  readonly unit?: string | null;
  readonly wanted: string;
  readonly margin?: number | null;
  readonly method: string;
  readonly sentence: string;
  readonly fix?: string;
}

/** A row that nobody could measure. */
export const unknown = (label: string, wanted: string, sentence: string): Row => ({
  state: 'unknown',
  label,
  figure: null,
  wanted,
  method: 'not measured',
  sentence,
});

export const when = (isMet: boolean): 'met' | 'short' => (isMet ? 'met' : 'short');
