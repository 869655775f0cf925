import { judgeDetail, type Clearness } from '../picture/judge-detail.ts';
import type { ContainerId, MediaKind } from '../media/containers.ts';
import type { PartInView } from '../presence/seen.ts';
import { readPictureSize, readRate, type Continuity, type MediaFacts } from '../media/facts.ts';

/** At which stage a finding was taken: on the take, on the plan, on the made file. */
export type Stage = 'measured' | 'planned' | 'proven';

/** All of a photographed piece, or a side of it at the border of the picture; null where nothing tells. */
export type PieceInView = 'whole' | 'at-border' | null;

/**
 * What the checks look at, the same for a take, a plan's prediction and a made file.
 * null says "not known", never "none".
 */
export interface Subject {
  readonly stage: Stage;
  readonly mediaKind: MediaKind;
  readonly container: ContainerId;
  readonly videoCodec: string | null;
  readonly soundCodec: string | null;
  readonly sizeBytes: number | null;
  readonly durationUs: number | null;
  readonly widthPx: number | null;
  readonly heightPx: number | null;
  readonly frameRate: number | null;
  readonly hasSound: boolean;
  readonly channels: number | null;
  readonly sampleRateHz: number | null;
  readonly loudnessLufs: number | null;
  readonly truePeakDbtp: number | null;
  /** Flat tops in the kept part of the recording itself: no gain takes them out again. */
  readonly clippedCount: number | null;
  /** How far a planned figure may come out otherwise; 0 where it is measured. */
  readonly uncertainty: { readonly bytesShare: number; readonly loudnessLu: number; readonly peakDb: number };
  /** How many spans of the source were joined; 1 is one unbroken span. */
  readonly spanCount: number | null;
  /** What inspection saw of cuts and gaps inside the recording; null where it did not look. */
  readonly continuity: Continuity | null;
  /** How long the person is in the picture within the kept part; null where nobody looked. */
  readonly inView: readonly PartInView[] | null;
  readonly pieceInView?: PieceInView;
  /** How blurred a photograph is at screen size, 0 to 1; null where nothing tells. */
  readonly blur?: number | null;
  /** How clear its parts are; null where nobody looked. */
  readonly clearness?: Clearness | null;
  readonly locationPresent: boolean | null;
  readonly fileName: string | null;
  /**
   * The name that the pattern wants for this person and piece, without its ending; null where it cannot be
   * told.
   */
  readonly wantedName: string | null;
  /** The slot that it is meant for; null where that is open. */
  readonly slotId: string | null;
  /** The bytes that this was measured on; null for a plan. */
  readonly sha256: string | null;
}

/** What a file's own facts do not tell. */
export interface SubjectContext {
  readonly stage: 'measured' | 'proven';
  readonly fileName: string | null;
  readonly wantedName: string | null;
  readonly spanCount: number | null;
  readonly slotId: string | null;
  /** What the kept part of the recording itself is like; null where nobody looked. */
  readonly clippedCount: number | null;
  readonly continuity: Continuity | null;
  readonly inView: readonly PartInView[] | null;
  readonly pieceInView?: PieceInView;
}

export const NO_UNCERTAINTY = { bytesShare: 0, loudnessLu: 0, peakDb: 0 } as const;

/** Turns measured facts into what the checks look at. */
export function convertFactsToSubject(facts: MediaFacts, context: SubjectContext): Subject {
  const size = readPictureSize(facts);
  return {
    ...context,
    mediaKind: facts.kind,
    container: facts.container,
    videoCodec: facts.video?.codec ?? facts.photo?.codec ?? null,
    soundCodec: facts.sound?.codec ?? null,
    sizeBytes: facts.sizeBytes,
    durationUs: facts.durationUs,
    widthPx: size?.widthPx ?? null,
    heightPx: size?.heightPx ?? null,
    frameRate: facts.video ? readRate(facts.video.frameRate) : null,
    blur: facts.conditions?.blur ?? null,
    clearness: facts.photo ? (judgeDetail(facts.photo)?.clearness ?? null) : null,
    hasSound: facts.sound !== null,
    channels: facts.sound?.channels ?? null,
    sampleRateHz: facts.sound?.rateHz ?? null,
    loudnessLufs: facts.sound?.loudnessLufs ?? null,
    truePeakDbtp: facts.sound?.truePeakDbtp ?? null,
    uncertainty: NO_UNCERTAINTY,
    locationPresent: facts.locationPresent,
    sha256: facts.sha256,
  };
}
