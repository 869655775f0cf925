import { AS_GOOD_CRF, type PieceResult, type PieceStep } from '@apodix/core';
import { availableParallelism } from 'node:os';
import { throwIfCancelled } from '../process/fail.ts';
import { codePiece, type Piece, type PieceInput } from './code-piece.ts';
import type { PieceStore, StoredPiece } from './piece-store.ts';

/**
 * What is known when a piece is begun: all but the last so many that were begun before it. It does not hang
 * on which of them happens to be done, so that the same input always gives the same bytes.
 */
export const UNKNOWN_STEPS = 2;
/** Never more side by side than may be unknown, and the one that is begun. */
const SIDE_BY_SIDE = Math.max(1, Math.min(UNKNOWN_STEPS + 1, availableParallelism()));
/** Whether that leaves no core idle. */
const FILLS_MACHINE = SIDE_BY_SIDE >= availableParallelism();
/** How much slower pieces are while one more process of one thread runs beside them, 0 to 1. */
export const SLOWED_SHARE = FILLS_MACHINE ? 1 / (SIDE_BY_SIDE + 1) : 0;

interface Wish {
  readonly piece: number;
  readonly crf: number;
}

export interface CodePiecesInput extends PieceInput {
  readonly store: PieceStore;
  readonly pieces: readonly Piece[];
  /** Of pieces that the store has, those to take as they are. */
  readonly chooseKnown: (known: readonly PieceResult[]) => readonly PieceResult[];
  readonly onShare: (share: number) => void;
  /** So many pieces are begun before this is waited for; none waits without it. */
  readonly settling?: { readonly end: Promise<unknown>; readonly earlyCount: number };
  /** Once it is aborted nothing more is begun, and it ends as cancelled when what is under way is done. */
  readonly enough?: AbortSignal;
}

/** Pieces that are coded: of each the last try is the one in use. */
export interface Coded {
  /** Every try, in the order in which they were begun. */
  readonly results: readonly PieceResult[];
  pathOf(piece: number): string;
  witnessPathOf(piece: number): string;
  /** Codes a piece again at just this quality. */
  code(wish: Wish): Promise<void>;
}

/**
 * Codes pieces side by side, asking before each what comes next by what is known; ends when nothing does.
 * Throws what coding throws, after all that was begun has ended.
 */
export async function codePieces(
  input: CodePiecesInput,
  findNext: (known: { readonly steps: readonly PieceStep[]; readonly isEarly: boolean }) => Wish | null,
): Promise<Coded> {
  const { pieces } = input;
  // Its failure is told where it is waited for.
  input.settling?.end.catch(() => undefined);
  const steps: Step[] = [];
  const current = new Map<number, StoredPiece>();
  const shares = new Map<number, number>();
  const stop = new AbortController();
  const signal = input.signal ? AbortSignal.any([input.signal, stop.signal]) : stop.signal;
  const lengthOf = (piece: number) => {
    const span = pieces[piece]?.span;
    return span ? span.last - span.first : 0;
  };
  const total = pieces.reduce((sum, _, piece) => sum + lengthOf(piece), 0);
  const tellShare = () => {
    let done = 0;
    for (const [piece, share] of shares) done += lengthOf(piece) * share;
    input.onShare(Math.min(1, done / Math.max(1, total)));
  };
  const makeOne = async ({ piece, crf }: Wish, within = AS_GOOD_CRF): Promise<StoredPiece> => {
    const described = pieces[piece];
    if (!described) throw new RangeError('A piece that is not there.');
    const stored = await input.store.find(described.key, crf, within);
    const own =
      stored ??
      (await codePiece(
        {
          ...input,
          isBesideOthers: FILLS_MACHINE && pieces.length >= SIDE_BY_SIDE,
          signal,
          onShare: (share) => {
            shares.set(piece, Math.max(share, shares.get(piece) ?? 0));
            tellShare();
          },
        },
        described,
        crf,
      ));
    shares.set(piece, 1);
    tellShare();
    return own;
  };
  const taken = (await takeKnown(input, current)).map((each) => ({ ...each, isSettled: true }));
  for (const { piece } of taken) shares.set(piece, 1);
  tellShare();
  const begin = (): boolean => {
    const known = steps.slice(0, Math.max(0, steps.length - UNKNOWN_STEPS));
    const begun = steps.map((step, at) => ({
      ...step.wish,
      ...(at < known.length ? step.told() : { bytes: null }),
    }));
    const isEarly = steps.length < (input.settling?.earlyCount ?? 0);
    const next = findNext({ steps: [...taken, ...begun], isEarly });
    if (!next) return false;
    steps.push(beginStep(next, makeOne));
    return true;
  };
  const work = async () => {
    for (;;) {
      throwIfCancelled(signal);
      if (input.settling && steps.length >= input.settling.earlyCount) await input.settling.end;
      if (input.enough?.aborted) return;
      // The next one is asked for when what it may know is known.
      const needed = steps.slice(0, Math.max(0, steps.length - UNKNOWN_STEPS));
      if (needed.some((step) => !step.isDone())) {
        await Promise.all(needed.map((step) => step.end));
        continue;
      }
      if (!begin()) return;
      await steps.at(-1)?.end;
    }
  };
  // What fails first is what is told: the others are ended because of it.
  const faults: unknown[] = [];
  const goOn = () =>
    work().catch((error: unknown) => {
      faults.push(error);
      stop.abort();
    });
  await Promise.all(Array.from({ length: SIDE_BY_SIDE }, goOn));
  if (faults.length > 0) throw faults[0];
  throwIfCancelled(input.enough);
  const results: PieceResult[] = [...taken];
  const note = (piece: number, made: StoredPiece) => {
    current.set(piece, made);
    results.push({ piece, crf: made.crf, bytes: made.bytes });
  };
  for (const { wish, end } of steps) note(wish.piece, await end);
  // What only the end of all told.
  await input.settling?.end;
  const settled = new Set(taken.map(({ piece }) => piece));
  const ask = () =>
    findNext({
      steps: results.map((each) => ({ ...each, isSettled: settled.has(each.piece) })),
      isEarly: false,
    });
  for (let next = ask(); next; next = ask()) note(next.piece, await makeOne(next));
  const find = (piece: number): StoredPiece => {
    const made = current.get(piece);
    if (!made) throw new RangeError('A piece that was not coded.');
    return made;
  };
  return {
    results,
    pathOf: (piece) => find(piece).path,
    witnessPathOf: (piece) => find(piece).witnessPath,
    // What is mended by a little has to come out a little different.
    code: async (wish) => note(wish.piece, await makeOne(wish, 0)),
  };
}

/** Pieces of the store that are taken as they are; each becomes the one in use. */
async function takeKnown(
  { store, pieces, chooseKnown }: CodePiecesInput,
  current: Map<number, StoredPiece>,
): Promise<PieceResult[]> {
  const stored = await Promise.all(pieces.map(({ key }) => store.findLatest(key)));
  const known = stored.flatMap((each, piece) => (each ? [{ piece, crf: each.crf, bytes: each.bytes }] : []));
  const taken = known.length === 0 ? [] : [...chooseKnown(known)];
  for (const { piece } of taken) {
    const each = stored[piece];
    if (each) current.set(piece, each);
  }
  return taken;
}

/** A piece under way. */
interface Step {
  readonly wish: Wish;
  readonly end: Promise<StoredPiece>;
  isDone(): boolean;
  told(): { readonly crf: number; readonly bytes: number | null };
}

function beginStep(wish: Wish, makeOne: (wish: Wish) => Promise<StoredPiece>): Step {
  let made: StoredPiece | null = null;
  const end = makeOne(wish).then((stored) => (made = stored));
  // Whoever waits for it is told of its failure; nobody may happen to.
  end.catch(() => undefined);
  return {
    wish,
    end,
    isDone: () => made !== null,
    told: () => ({ crf: made?.crf ?? wish.crf, bytes: made?.bytes ?? null }),
  };
}
