import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Limit } from '../limits/limit.ts';
import type { Slot } from '../handin/parcel.ts';
import { LINING_UP, readCount, stepCapture, type CaptureEvent } from './capture-machine.ts';
import { chooseQuality } from './choose-quality.ts';
import { describeLook } from './describe-look.ts';
import { describeSound } from './describe-sound.ts';
import { describeTime } from './describe-time.ts';
import { chooseGuide } from './guides.ts';
import { IdleWatch, StartWatch } from './idle-watch.ts';
import { orderModes } from './order-modes.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const slot = (item: Slot['item']): Slot => ({
  id: item,
  label: item,
  item,
  min: 1,
  max: 1,
  alternative: null,
});

describe('orderModes', () => {
  it('begins with what the assignment wants, and says of the rest that it is not', () => {
    expect(orderModes([slot('photo'), slot('text')])).toEqual([
      { mode: 'photo', isWanted: true, note: null },
      { mode: 'video', isWanted: false, note: 'This assignment wants photographs.' },
      { mode: 'sound', isWanted: false, note: 'This assignment wants photographs.' },
    ]);
  });
  it('leaves all open where nothing is asked for', () => {
    expect(orderModes([]).every(({ isWanted }) => isWanted)).toBe(true);
  });
});

describe('chooseQuality', () => {
  it('takes the most lines whose bytes fit at the longest that is allowed', () => {
    const asked = [
      { kind: 'length', maxUs: 120_000_000 },
      { kind: 'file-size', maxBytes: 50_000_000 },
      { kind: 'picture-edge', edge: 'lines', max: 720 },
    ];
    const choice = chooseQuality(limits(...asked), 'video');
    // 2:00 at 2.5 Mbit/s and 160 kbit/s of sound are 39.9 MB by hand, with 5 % of room 41.9.
    expect(choice).toMatchObject({ fits: true, quality: { lines: 720 } });
    expect(choice.bytes).toBeGreaterThan(39_900_000);
    expect(choice.sentence).toBe('2:00 at 720 lines is about 41.9 MB: fits in 50 MB.');
  });
  it('never records more lines than are allowed, nor fewer than are asked for', () => {
    const lines = (raw: Record<string, unknown>) =>
      chooseQuality(limits({ kind: 'picture-edge', edge: 'lines', ...raw }), 'video').quality.lines;
    expect([lines({ max: 720 }), lines({ max: 1080 }), lines({ min: 1080 })]).toEqual([720, 1080, 1080]);
  });
  it('says where Fit has to make it smaller', () => {
    const choose = (maxBytes: number) => chooseQuality(limits({ kind: 'file-size', maxBytes }), 'video');
    expect(choose(25_000_000)).toMatchObject({ fits: false, quality: { lines: 720 } });
    expect(choose(25_000_000).sentence).toBe(
      '2:00 at 720 lines is about 41.9 MB; Fit makes it smaller, to 25 MB.',
    );
    expect(choose(1_000_000).quality.lines).toBe(480);
  });
  it('records sixty pictures a second only where they are asked for', () => {
    expect(chooseQuality(limits({ kind: 'frame-rate', min: 50 }), 'video').quality.frameRate).toBe(60);
    expect(chooseQuality([], 'video').quality.frameRate).toBe(30);
  });
});

describe('stepCapture', () => {
  const press = { type: 'press', at: 1000, countIn: 3, waits: false } as const;
  it('counts in, records and ends', () => {
    const counting = stepCapture(LINING_UP, press);
    expect([1000, 1001, 2500, 3999].map((at) => readCount(counting, at))).toEqual([3, 3, 2, 1]);
    expect(stepCapture(counting, { type: 'tick', at: 3999 })).toBe(counting);
    const recording = stepCapture(counting, { type: 'tick', at: 4000 });
    expect(recording).toEqual({ phase: 'recording', startedAt: 4000 });
    const ending = stepCapture(recording, { type: 'stop', at: 9000 });
    expect(stepCapture(ending, { type: 'written' })).toEqual({ phase: 'ended', durationMs: 5000 });
  });
  it('keeps what was before the first sound', () => {
    const waiting = stepCapture(LINING_UP, { ...press, waits: true });
    expect(stepCapture(waiting, { type: 'noticed', at: 9000, keptMs: 5000 })).toEqual({
      phase: 'recording',
      startedAt: 4000,
    });
  });
  it('goes back to lining up where it is stopped before anything runs', () => {
    expect(stepCapture(stepCapture(LINING_UP, press), { type: 'stop', at: 2000 })).toBe(LINING_UP);
  });
  it('nothing but a stop ends a recording', () => {
    const event = fc.oneof(
      fc.record({ type: fc.constant('tick' as const), at: fc.nat() }),
      fc.record({ type: fc.constant('noticed' as const), at: fc.nat(), keptMs: fc.nat(5000) }),
      fc.constantFrom<CaptureEvent>({ type: 'written' }, { type: 'again' }, { ...press, countIn: 0 }),
    );
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), (events) => {
        const recording = { phase: 'recording', startedAt: 5 } as const;
        expect(events.reduce(stepCapture, recording)).toEqual(recording);
      }),
    );
  });
});

describe('what is told', () => {
  it.each([
    [30, 90, 120, '1:00 more at least', 'short'],
    [79.2, null, 120, '0:40 left', 'good'],
    [112, null, 120, '0:08 left', 'ending'],
    [132, null, 120, '0:12 over: go on, it can be cut later', 'over'],
    [50, null, null, 'no limit on the length', 'good'],
  ] as const)('%d s of at least %s and at most %s: %s', (seconds, min, max, text, state) => {
    const us = (value: number | null) => (value === null ? null : value * 1e6);
    expect(describeTime(seconds * 1e6, us(min), us(max))).toEqual({ text, state });
  });

  const calm = {
    levelDb: -30,
    peakDb: -12,
    heldPeakDb: -9,
    loudestDb: -9,
    clippedCount: 0,
    silentS: 0,
    humHz: null,
  };
  it.each([
    [{}, 'Good. Loudest so far −9 dB.'],
    [{ loudestDb: -40, heldPeakDb: -40 }, 'Too quiet (loudest −40 dB): come closer or raise the level.'],
    [{ clippedCount: 2 }, 'Too loud, it distorts: move back or lower the level.'],
    [{ silentS: 6 }, 'Nothing is heard for 6 s: is the microphone the right one?'],
    [{ humHz: 50 as const }, 'A hum of 50 Hz is in it: move away from lamps, chargers and cables.'],
  ])('of sound like %j: %s', (change, text) => {
    expect(describeSound({ ...calm, ...change }).text).toBe(text);
  });

  it('a guide looks for what the limits want to see', () => {
    expect(chooseGuide('music', 'video', []).parts).toEqual(['face', 'hands']);
    expect(chooseGuide('PE', 'video', limits({ kind: 'in-view', parts: ['face'] })).parts).toEqual(['face']);
    expect(chooseGuide('art', 'photo', [])).toMatchObject({ id: 'art', wantsPiece: true });
    expect(chooseGuide('Devised theatre', 'video', []).id).toBe('drama');
    expect(chooseGuide('music', 'sound', []).shapes).toEqual([]);
  });
});

describe('somebody plays', () => {
  const run = (levels: readonly number[]) => {
    const watch = new IdleWatch();
    return levels.map((level, index) => watch.add(index / 5, level, 0)).lastIndexOf(true);
  };
  it('and nothing records: told after four seconds, not after a cough', () => {
    const playing = Array.from({ length: 40 }, () => -20);
    const firstTold = new IdleWatch();
    const told = playing.findIndex((level, index) => firstTold.add(index / 5, level, 0));
    expect(told / 5).toBeGreaterThan(3);
    expect(told / 5).toBeLessThan(4.5);
    expect(
      run([...Array.from({ length: 20 }, () => -60), -15, -15, ...Array.from({ length: 20 }, () => -60)]),
    ).toBe(-1);
  });
  it('the first note starts a recording that waits, the noise of the room does not', () => {
    const watch = new StartWatch();
    const room = Array.from({ length: 50 }, (_, index) => -55 + (index % 3));
    expect(room.some((level) => watch.add(level, 0.5))).toBe(false);
    expect(watch.add(-22, 0.5)).toBe(true);
  });
  it('the first movement does too', () => {
    const watch = new StartWatch();
    expect(Array.from({ length: 20 }, () => watch.add(null, 0.8)).some(Boolean)).toBe(false);
    expect(watch.add(null, 12)).toBe(true);
  });
});

describe('describeLook', () => {
  const states = { face: 'y', hands: 'n', body: 'u' } as const;
  it.each([
    [['face'], 'Face is in the picture.', true],
    [['face', 'hands'], 'Not in the picture: both hands.', false],
    [['body'], 'Hard to tell: the whole body.', false],
  ] as const)('of %j says %s', (wanted, text, isGood) => {
    expect(describeLook(states, wanted)).toEqual({ text, isGood });
  });
});
