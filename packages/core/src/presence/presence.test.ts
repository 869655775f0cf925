import { describe, expect, it } from 'vitest';
import { judgeLook, type FoundPoint, type Look } from './look.ts';
import { buildSeen, measureInView, Seen } from './seen.ts';

const face = (x = 0.4, score = 0.9) => ({ x, y: 0.1, width: 0.15, height: 0.2, score });
const hand = (x: number, score = 0.9) => ({
  points: Array.from({ length: 21 }, (_, index): FoundPoint => ({
    x: x + (index % 5) * 0.015,
    y: 0.5 + Math.floor(index / 5) * 0.02,
    visibility: 1,
  })),
  score,
});
/** A body from the nose at the top to the ankles, wrists where they are told. */
const body = (
  feetY: number,
  wristXs: readonly [number, number] = [0.3, 0.7],
  visibility = 0.9,
  shoulders = 0.25,
) =>
  Array.from({ length: 33 }, (_, index): FoundPoint => {
    if (index === 15 || index === 16) return { x: wristXs[index - 15] ?? 0, y: 0.5, visibility: 0.9 };
    if (index === 11 || index === 12) return { x: 0.5 + (index - 11.5) * shoulders, y: 0.3, visibility };
    return { x: 0.5, y: index === 0 ? 0.1 : index >= 27 ? feetY : 0.45, visibility };
  });
const nothing: Look = { faces: [], hands: [], body: null };

describe('judgeLook', () => {
  it('sees a face and both hands with their fingers', () => {
    const states = judgeLook({ faces: [face()], hands: [hand(0.2), hand(0.6)], body: null });
    expect(states).toMatchObject({ face: 'y', hands: 'y', body: 'n' });
  });
  it('sees nothing where nobody is', () => {
    expect(judgeLook(nothing)).toEqual({ face: 'n', hands: 'n', body: 'n' });
  });
  it('does not count a hand that is found twice, or that is half out', () => {
    expect(judgeLook({ ...nothing, hands: [hand(0.3), hand(0.305)] }).hands).not.toBe('y');
    expect(judgeLook({ ...nothing, hands: [hand(0.3), hand(0.97)] }).hands).not.toBe('y');
  });
  it('tells hands behind an instrument from hands out of the picture', () => {
    expect(judgeLook({ ...nothing, body: body(0.9) }).hands).toBe('c');
    expect(judgeLook({ ...nothing, body: body(0.9, [-0.2, 0.7]) }).hands).toBe('n');
    // From far away they are too small to be found.
    expect(judgeLook({ ...nothing, body: body(0.9, [0.3, 0.7], 0.9, 0.1) }).hands).toBe('u');
  });
  it('is unsure of a face that is cut off or turned away', () => {
    expect(judgeLook({ ...nothing, faces: [face(-0.08)] }).face).toBe('u');
    expect(judgeLook({ ...nothing, body: body(0.9) }).face).toBe('u');
  });
  it('wants the body from head to feet', () => {
    expect(judgeLook({ ...nothing, body: body(0.95) }).body).toBe('y');
    expect(judgeLook({ ...nothing, body: body(1.2) }).body).toBe('n');
    expect(judgeLook({ ...nothing, body: body(0.95, [0.3, 0.7], 0.5) }).body).toBe('u');
  });
});

describe('measureInView', () => {
  const both: Look = { faces: [face()], hands: [hand(0.2), hand(0.6)], body: null };
  const onlyFace: Look = { ...both, hands: [] };
  // Twenty looks, half a second apart: hands are gone from 3 to 6 s.
  const looks = Array.from({ length: 20 }, (_, index) => (index >= 6 && index < 12 ? onlyFace : both));
  const seen = buildSeen(looks, 0, 500_000);

  it('gives shares of the time and where it was lost', () => {
    const hands = measureInView(seen, [{ startUs: 0, finishUs: 10_000_000 }])[1];
    expect(hands?.seenShare).toBeCloseTo(0.7);
    expect(hands?.lost).toEqual([{ startUs: 3_000_000, finishUs: 6_000_000 }]);
  });
  it('looks only at what is kept', () => {
    const kept = measureInView(seen, [{ startUs: 6_000_000, finishUs: 10_000_000 }])[1];
    expect(kept).toMatchObject({ seenShare: 1, lost: [] });
  });
  it('takes a single look that differs for a mistake', () => {
    const once = buildSeen([both, both, onlyFace, both, both], 0, 500_000);
    expect(measureInView(once, [{ startUs: 0, finishUs: 5_000_000 }])[1]?.seenShare).toBe(1);
  });
  it('is refused where its letters are of different lengths', () => {
    expect(Seen.safeParse({ ...seen, face: 'y' }).success).toBe(false);
    expect(Seen.safeParse(seen).success).toBe(true);
  });
});
