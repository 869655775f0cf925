import { z } from 'zod';
import type { TimeRange } from '../time/range.ts';
import { judgeLook, PARTS, type Look, type Part, type SeenState } from './look.ts';

const Letters = z
  .string()
  .regex(/^[yncu]*$/)
  .max(40_000);

/**
 * What was seen of a person along a take, one letter a look, looks `stepUs` apart from `startUs` on. Figures
 * alone: no picture and nothing that a person could be known by.
 */
export const Seen = z
  .object({
    version: z.literal(1),
    startUs: z.int().nonnegative(),
    stepUs: z.int().positive(),
    face: Letters,
    hands: Letters,
    body: Letters,
  })
  .refine((seen) => seen.face.length === seen.hands.length && seen.face.length === seen.body.length, {
    error: 'Every look tells of face, hands and body.',
  });
export type Seen = z.infer<typeof Seen>;

/** What stands in the kept part of a take, by parts of the person. */
export interface PartInView {
  readonly part: Part;
  /** Shares of the looks, 0 to 1. */
  readonly seenShare: number;
  readonly coveredShare: number;
  readonly unsureShare: number;
  /** Stretches of at least a second in which it was not to be seen. */
  readonly lost: readonly TimeRange[];
}

const LEAST_LOST_US = 1_000_000;
/** A single look that says otherwise than its neighbours is more likely a mistake than a gap. */
const SMOOTH = 1;

export function buildSeen(looks: readonly Look[], startUs: number, stepUs: number): Seen {
  const letters: Record<Part, string> = { face: '', hands: '', body: '' };
  for (const look of looks) {
    const states = judgeLook(look);
    for (const part of PARTS) letters[part] += states[part];
  }
  return { version: 1, startUs: Math.round(startUs), stepUs: Math.round(stepUs), ...letters };
}

/** How long each part of the person is in the picture within what is kept of the take. */
export function measureInView(seen: Seen, spans: readonly TimeRange[]): readonly PartInView[] {
  const kept = Array.from({ length: seen.face.length }, (_, index) => {
    const atUs = seen.startUs + index * seen.stepUs;
    return spans.some((span) => atUs >= span.startUs && atUs < span.finishUs);
  });
  return PARTS.map((part) => {
    const states = smoothStates([...seen[part]] as SeenState[]);
    const count = kept.filter(Boolean).length;
    const shareOf = (state: SeenState) =>
      states.filter((each, index) => kept[index] && each === state).length / Math.max(1, count);
    return {
      part,
      seenShare: shareOf('y'),
      coveredShare: shareOf('c'),
      unsureShare: shareOf('u'),
      lost: findLost(states, kept, seen),
    };
  });
}

function smoothStates(states: readonly SeenState[]): SeenState[] {
  return states.map((state, index) => {
    const before = states.slice(Math.max(0, index - SMOOTH), index);
    const after = states.slice(index + 1, index + 1 + SMOOTH);
    const around = [...before, ...after];
    const [first] = around;
    return first && around.length === 2 * SMOOTH && around.every((each) => each === first) ? first : state;
  });
}

function findLost(states: readonly SeenState[], kept: readonly boolean[], seen: Seen): TimeRange[] {
  const lost: TimeRange[] = [];
  const at = (index: number) => seen.startUs + index * seen.stepUs;
  let from: number | null = null;
  for (let index = 0; index <= states.length; index += 1) {
    const isLost = index < states.length && kept[index] === true && states[index] === 'n';
    if (isLost) from ??= index;
    else if (from !== null) {
      if (at(index) - at(from) >= LEAST_LOST_US) lost.push({ startUs: at(from), finishUs: at(index) });
      from = null;
    }
  }
  return lost;
}
