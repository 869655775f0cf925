import { isWrittenSlot, type Slot } from '../handin/parcel.ts';
import { joinWords } from '../limits/words.ts';

/** What a camera can be set to. */
export const CAPTURE_MODES = ['video', 'photo', 'sound'] as const;
export type CaptureMode = (typeof CAPTURE_MODES)[number];

export interface ModeChoice {
  readonly mode: CaptureMode;
  readonly isWanted: boolean;
  /** Why it stands last; null where the assignment wants it or says nothing. */
  readonly note: string | null;
}

const NAMES: Readonly<Record<CaptureMode, string>> = {
  video: 'a video',
  photo: 'photographs',
  sound: 'a sound recording',
};

/** Modes in the order of an assignment's slots; what no slot takes stands last and says so. */
export function orderModes(slots: readonly Slot[]): readonly ModeChoice[] {
  const files = slots.filter((slot) => !isWrittenSlot(slot));
  const asked = files.map((slot) => slot.item as CaptureMode);
  const wanted = [...new Set(asked)];
  // The sound of a video is a sound recording too, but what is asked for is the video.
  const rest = CAPTURE_MODES.filter((mode) => !wanted.includes(mode));
  if (wanted.length === 0) return CAPTURE_MODES.map((mode) => ({ mode, isWanted: true, note: null }));
  const words = joinWords(
    wanted.map((mode) => NAMES[mode]),
    'or',
  );
  return [
    ...wanted.map((mode) => ({ mode, isWanted: true, note: null })),
    ...rest.map((mode) => ({ mode, isWanted: false, note: `This assignment wants ${words}.` })),
  ];
}
