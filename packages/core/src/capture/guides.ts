import { findPreference } from '../fit/preference.ts';
import type { Limit } from '../limits/limit.ts';
import type { Part } from '../presence/look.ts';
import type { CaptureMode } from './order-modes.ts';

/** A dashed frame over the preview; shares of the picture. */
export interface GuideShape {
  readonly label: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface Guide {
  readonly id: 'music' | 'art' | 'drama' | 'pe' | 'plain';
  /** What to line up, in a sentence. */
  readonly words: string;
  readonly shapes: readonly GuideShape[];
  /** Parts of the person that are looked for while lining up. */
  readonly parts: readonly Part[];
  /** Whether a flat piece is looked for. */
  readonly wantsPiece: boolean;
}

const DRAMA = /drama|theatre|theater|acting|speech|dance/i;

const guides: Readonly<Record<Guide['id'], Guide>> = {
  music: {
    id: 'music',
    words: 'Face and both hands inside the frames.',
    shapes: [
      { label: 'face', x: 0.38, y: 0.08, width: 0.24, height: 0.36 },
      { label: 'both hands', x: 0.2, y: 0.5, width: 0.6, height: 0.34 },
    ],
    parts: ['face', 'hands'],
    wantsPiece: false,
  },
  art: {
    id: 'art',
    words: 'All four edges inside, parallel to the frame, as large as it goes. On a table or held up.',
    shapes: [{ label: 'the whole piece', x: 0.07, y: 0.07, width: 0.86, height: 0.86 }],
    parts: [],
    wantsPiece: true,
  },
  drama: {
    id: 'drama',
    words: 'Head to feet, with room to move on both sides.',
    shapes: [
      { label: 'head to feet', x: 0.36, y: 0.08, width: 0.28, height: 0.84 },
      { label: 'room to move', x: 0.08, y: 0.08, width: 0.84, height: 0.84 },
    ],
    parts: ['body'],
    wantsPiece: false,
  },
  pe: {
    id: 'pe',
    words: 'The run-up and the landing inside, the camera still and side-on.',
    shapes: [
      { label: 'run-up', x: 0.04, y: 0.3, width: 0.3, height: 0.6 },
      { label: 'landing', x: 0.66, y: 0.3, width: 0.3, height: 0.6 },
    ],
    parts: ['body'],
    wantsPiece: false,
  },
  plain: {
    id: 'plain',
    words: 'Everything that counts inside the picture.',
    shapes: [],
    parts: [],
    wantsPiece: false,
  },
};

/** The guide for a subject; what the limits say has to be in view is looked for in any case. */
export function chooseGuide(subject: string, mode: CaptureMode, limits: readonly Limit[]): Guide {
  const guide = guides[mode === 'sound' ? 'plain' : findGuide(subject, mode)];
  const asked = limits.flatMap((limit) => (limit.kind === 'in-view' ? limit.parts : []));
  return asked.length > 0 && mode !== 'sound' ? { ...guide, parts: [...new Set(asked)] } : guide;
}

function findGuide(subject: string, mode: CaptureMode): Guide['id'] {
  // What is photographed for music is a sheet.
  if (/music/i.test(subject)) return mode === 'photo' ? 'art' : 'music';
  if (DRAMA.test(subject)) return 'drama';
  const preference = findPreference(subject);
  if (preference === 'sharpness' || (mode === 'photo' && preference !== 'motion')) return 'art';
  return preference === 'motion' ? 'pe' : 'plain';
}
