import { suggestNextPiece, type PieceStep } from '@apodix/core';
import { setTimeout as wait } from 'node:timers/promises';
import { describe, expect, it } from 'vitest';
import type { Piece } from './code-piece.ts';
import { codePieces, type CodePiecesInput } from './code-pieces.ts';
import type { PieceStore, StoredPiece } from './piece-store.ts';

const COUNT = 9;
const pieces = Array.from({ length: COUNT }, (_, piece) => ({
  ...{ key: String(piece), span: { first: piece * 10, last: piece * 10 + 10 } },
})) as unknown as Piece[];
/** What a piece takes: the later ones more, so that steering has something to do. */
const bytesOf = (piece: number, crf: number) => Math.round((1 + piece / 4) * 2 ** (20 - crf / 6));

/** A store that has every piece at any quality, after a while; nothing is coded. */
function openFull(delayMs: (piece: number) => number, asked: number[] = []): PieceStore {
  const find = async (key: string, crf: number, within: number): Promise<StoredPiece> => {
    asked.push(within);
    await wait(delayMs(Number(key)));
    return { crf, bytes: bytesOf(Number(key), crf), path: `${key}/${crf}`, witnessPath: `${key}.mkv` };
  };
  return { find, findLatest: () => Promise.resolve(null) } as unknown as PieceStore;
}

const steering = {
  prior: { level: 20, slope: 6 },
  weights: pieces.map(() => 1),
  order: [0, 4, 2, 6, 1, 5, 3, 7, 8],
  targetBytes: COUNT * 2 ** 16,
  leastCrf: 14,
};
const run = (
  store: PieceStore,
  seen: (readonly PieceStep[])[] = [],
  settling?: CodePiecesInput['settling'],
  early: boolean[] = [],
) =>
  codePieces(
    {
      ...{ store, pieces, settling },
      ...{ chooseKnown: () => [], onShare: () => undefined },
    } as unknown as CodePiecesInput,
    ({ steps, isEarly }) => {
      seen.push(steps);
      early.push(isEarly);
      return suggestNextPiece({ ...steering, steps });
    },
  );

describe('codePieces', () => {
  it('decides by the same, whichever piece happens to be done first', async () => {
    const [evenly, unevenly]: [(readonly PieceStep[])[], (readonly PieceStep[])[]] = [[], []];
    const one = await run(
      openFull(() => 2),
      evenly,
    );
    const other = await run(
      openFull((piece) => (piece % 3 === 0 ? 40 : 1)),
      unevenly,
    );
    expect(other.results).toEqual(one.results);
    const asked = (all: readonly (readonly PieceStep[])[]) =>
      new Set(all.map((steps) => JSON.stringify(steps)));
    expect(asked(unevenly)).toEqual(asked(evenly));
    expect(new Set(one.results.map(({ piece }) => piece)).size).toBe(COUNT);
  });

  it('mends by as little as is asked for: what is nearly the same will not do', async () => {
    const asked: number[] = [];
    const coded = await run(openFull(() => 0, asked));
    expect(new Set(asked)).toEqual(new Set([0.3]));
    const { crf = 0 } = coded.results.find(({ piece }) => piece === 5) ?? {};
    await coded.code({ piece: 5, crf: crf - 0.1 });
    expect(asked.at(-1)).toBe(0);
    expect(coded.results.at(-1)).toEqual({ piece: 5, crf: crf - 0.1, bytes: bytesOf(5, crf - 0.1) });
    expect(coded.pathOf(5)).toBe(`5/${crf - 0.1}`);
  });

  it('begins no more than it may before what is settled beside it, and ends where that fails', async () => {
    const asked: string[] = [];
    const store = openFull(() => 1);
    const watched = {
      ...store,
      find: (key: string, crf: number, within: number) => {
        asked.push(key);
        return store.find(key, crf, within);
      },
    } as unknown as PieceStore;
    let settle: () => void = () => undefined;
    const end = new Promise<void>((done) => (settle = done));
    const early: boolean[] = [];
    const under = run(watched, [], { end, earlyCount: 3 }, early);
    await wait(60);
    expect(asked).toEqual(['0', '4', '2']);
    settle();
    expect(new Set((await under).results.map(({ piece }) => piece)).size).toBe(COUNT);
    expect(early.slice(0, 4)).toEqual([true, true, true, false]);
    // Where fewer are coded than may be, it is waited for at the end of all.
    const late: boolean[] = [];
    const whole = { end: wait(30), earlyCount: COUNT + 9 };
    await run(
      openFull(() => 0),
      [],
      whole,
      late,
    );
    expect([late[0], late.at(-1)]).toEqual([true, false]);
    const failing = { end: Promise.reject(new RangeError('the sound')), earlyCount: 2 };
    await expect(run(store, [], failing)).rejects.toThrow('the sound');
  });

  it('tells what failed first, after all that was begun has ended', async () => {
    let underWay = 0;
    const store = {
      findLatest: () => Promise.resolve(null),
      find: async (key: string) => {
        underWay += 1;
        await wait(key === '4' ? 1 : 30);
        underWay -= 1;
        if (key === '4') throw new RangeError('the fourth');
        return { crf: 24, bytes: 9, path: '', witnessPath: '' };
      },
    } as unknown as PieceStore;
    await expect(run(store)).rejects.toThrow('the fourth');
    expect(underWay).toBe(0);
  });
  it('begins no more once it is enough, and what is under way comes to its end', async () => {
    const enough = new AbortController();
    const [begun, ended]: [string[], string[]] = [[], []];
    const find = async (key: string, crf: number): Promise<StoredPiece> => {
      begun.push(key);
      if (begun.length === 3) enough.abort();
      await wait(10);
      ended.push(key);
      return { crf, bytes: bytesOf(Number(key), crf), path: key, witnessPath: key };
    };
    const store = { find, findLatest: () => Promise.resolve(null) };
    const input = { store, pieces, chooseKnown: () => [], onShare: () => undefined, enough: enough.signal };
    const coding = codePieces(input as unknown as CodePiecesInput, ({ steps }) =>
      suggestNextPiece({ ...steering, steps }),
    );
    await expect(coding).rejects.toMatchObject({ code: 'CANCELLED' });
    expect(begun).toHaveLength(3);
    expect(ended.sort()).toEqual(begun.sort());
  });
});
