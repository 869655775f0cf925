import { Limit, readBounds } from '../limit.ts';
import type { FoundLimit } from './found.ts';
import { describeLimit } from '../table.ts';
import { MENDS } from './context.ts';

export interface LimitSpan {
  readonly start: number;
  readonly end: number;
  readonly limitId: string;
}

/** Demands that cannot all be met, with what would help. */
export interface Conflict {
  readonly limitIds: readonly string[];
  readonly message: string;
  readonly possible: string | null;
}

interface Clash {
  readonly draft: Draft;
  readonly message: string;
  readonly isFirstTaken?: boolean;
}

interface Draft {
  raw: Record<string, unknown> & { kind: Limit['kind'] };
  severity: 'must' | 'should';
  places: { start: number; end: number }[];
  sentence: number;
}

export interface PlacedLimit extends FoundLimit {
  /** Number of the sentence that it stands in. */
  readonly sentence: number;
}

/** Which of a kind's fields hold its bounds. */
const BOUNDS: Readonly<Partial<Record<Limit['kind'], readonly [string, string]>>> = {
  'file-size': ['minBytes', 'maxBytes'],
  length: ['minUs', 'maxUs'],
  'picture-edge': ['min', 'max'],
  'frame-rate': ['min', 'max'],
  'sample-rate': ['min', 'max'],
  loudness: ['min', 'max'],
};
const ONE_VALUE = new Set<Limit['kind']>([
  'orientation',
  'sound-present',
  'channels',
  'late',
  'aspect',
  'file-name',
  'attempts',
  'true-peak',
  'total-size',
  'print-resolution',
]);
/** Fields that tell two limits of a kind apart. */
const keyOf = (raw: Draft['raw']) =>
  [raw.kind, raw.appliesTo ?? 'any', raw.edge ?? '', raw.kind === 'count' ? raw.item : ''].join('|');

/**
 * Brings what several places say together: bounds of one thing become one limit, repetitions one with
 * several places, corrections
 * replace what stood before. What contradicts itself is told and the later words count.
 */
export function mergeLimits(
  found: readonly PlacedLimit[],
  text: string,
): { limits: Limit[]; spans: LimitSpan[]; conflicts: Conflict[] } {
  const drafts: Draft[] = [];
  const clashes: Clash[] = [];
  for (const each of found) addFound(drafts, each, clashes, text);
  const limits: Limit[] = [];
  const spans: LimitSpan[] = [];
  const ids = new Map<Draft, string>();
  const counts = new Map<string, number>();
  for (const draft of drafts) {
    const count = (counts.get(draft.raw.kind) ?? 0) + 1;
    counts.set(draft.raw.kind, count);
    const id = count === 1 ? draft.raw.kind : `${draft.raw.kind}-${count}`;
    const parsed = Limit.safeParse({
      id,
      severity: draft.severity,
      words: quote(text, draft.places),
      ...draft.raw,
    });
    if (!parsed.success) continue;
    ids.set(draft, id);
    limits.push(parsed.data);
    for (const place of draft.places) spans.push({ ...place, limitId: id });
  }
  const conflicts = clashes.flatMap(({ draft, message, isFirstTaken }) =>
    ids.has(draft)
      ? [
          {
            limitIds: [ids.get(draft) ?? ''],
            message,
            possible: `The ${isFirstTaken ? 'first' : 'later'} words were taken. Ask your teacher which ones count.`,
          },
        ]
      : [],
  );
  return { limits, spans: spans.sort((left, right) => left.start - right.start), conflicts };
}

function addFound(drafts: Draft[], each: PlacedLimit, clashes: Clash[], text: string): void {
  const place = { start: each.start, end: each.end };
  const fresh: Draft = {
    raw: { ...each.raw },
    severity: each.severity,
    places: [place],
    sentence: each.sentence,
  };
  const isSame = (draft: Draft) =>
    draft.raw.kind === each.raw.kind &&
    (keyOf(draft.raw) === keyOf(each.raw) ||
      (each.isCorrection &&
        (each.raw.appliesTo ?? 'any') === 'any' &&
        keyOf({ ...draft.raw, appliesTo: 'any' }) === keyOf({ ...each.raw, appliesTo: 'any' })));
  if (each.raw.kind === 'format' || each.raw.kind === 'video-codec' || each.raw.kind === 'sound-codec')
    return addFormats(drafts, each, fresh);
  const earlier = drafts.filter(isSame);
  if (each.isCorrection) {
    const replaced = earlier.filter(
      (draft) => draft.sentence < each.sentence && (each.raw.kind !== 'count' || earlier.length === 1),
    );
    if (replaced.length > 0) {
      for (const draft of replaced) drafts.splice(drafts.indexOf(draft), 1);
      drafts.push(fresh);
      return;
    }
  }
  const same = earlier.find(
    (draft) =>
      draft.severity === each.severity && (draft.raw.isAbout === true) === (each.raw.isAbout === true),
  );
  const fields = BOUNDS[each.raw.kind];
  const last = same?.places.at(-1);
  const between = same && last && same.sentence === each.sentence ? text.slice(last.end, each.start) : '';
  if (same && fields && MENDS.test(between)) {
    // "At most five, sorry, seven": a figure without a bound of its own takes over the side.
    same.raw = { ...fresh.raw, ...takeSide(same, fresh, fields) };
    same.places.push(place);
    return;
  }
  if (same && fields) return mergeBounds(same, fresh, fields, clashes, each.isCorrection);
  if (same && (ONE_VALUE.has(each.raw.kind) || isEqual(same.raw, each.raw))) {
    if (isEqual(same.raw, each.raw)) same.places.push(place);
    else {
      const was = describe(same.raw);
      same.raw = fresh.raw;
      same.places.push(place);
      clashes.push({ draft: same, message: `The text says both ${was} and ${describe(fresh.raw)}.` });
    }
    return;
  }
  if (earlier.some((draft) => isEqual(draft.raw, each.raw))) {
    earlier.find((draft) => isEqual(draft.raw, each.raw))?.places.push(place);
    return;
  }
  drafts.push(fresh);
}

function takeSide(same: Draft, fresh: Draft, [min, max]: readonly [string, string]): Record<string, unknown> {
  if (fresh.raw[min] !== fresh.raw[max]) return {};
  return {
    [min]: same.raw[min] === null ? null : fresh.raw[min],
    [max]: same.raw[max] === null ? null : fresh.raw[max],
  };
}

function mergeBounds(
  same: Draft,
  fresh: Draft,
  fields: readonly [string, string],
  clashes: Clash[],
  isCorrection: boolean,
): void {
  const [minField, maxField] = fields;
  const read = (draft: Draft) => [draft.raw[minField] ?? null, draft.raw[maxField] ?? null] as const;
  const [oldMin, oldMax] = read(same);
  const [newMin, newMax] = read(fresh);
  const isAbout = same.raw.isAbout === true || fresh.raw.isAbout === true;
  if (isEqual(same.raw, fresh.raw)) {
    same.places.push(...fresh.places);
    return;
  }
  const fills = !isAbout && ((oldMin === null && newMax === null) || (oldMax === null && newMin === null));
  if (!fills) {
    const isInside =
      !isAbout &&
      oldMin === oldMax &&
      oldMin !== null &&
      (newMin === null || newMin <= oldMin) &&
      (newMax === null || newMax >= oldMin);
    if (isInside) {
      same.places.push(...fresh.places);
      return;
    }
    const was = describe(same.raw);
    // Two figures in one breath are about two things; which is which was not understood.
    if (same.sentence === fresh.sentence && !isCorrection) {
      clashes.push({
        draft: same,
        message: `The text says both ${was} and ${describe(fresh.raw)}.`,
        isFirstTaken: true,
      });
      return;
    }
    same.raw = {
      ...same.raw,
      ...fresh.raw,
      [minField]: newMin,
      [maxField]: newMax,
      ...(same.raw.kind === 'length' ? { isAbout: fresh.raw.isAbout === true } : {}),
    };
    same.places.push(...fresh.places);
    clashes.push({ draft: same, message: `The text says both ${was} and ${describe(fresh.raw)}.` });
    return;
  }
  const merged = { ...same.raw, [minField]: oldMin ?? newMin, [maxField]: oldMax ?? newMax };
  const [low, high] = readBounds(merged);
  if (low !== null && high !== null && low > high) {
    const was = describe(same.raw);
    same.raw = { ...same.raw, [minField]: newMin, [maxField]: newMax };
    same.places.push(...fresh.places);
    clashes.push({
      draft: same,
      message: `The text says both ${was} and ${describe(fresh.raw)}: no file can meet both.`,
    });
    return;
  }
  same.places.push(...fresh.places);
  // "35 s or shorter. A run over 35 s is too slow": the other side of the same bound is no second one.
  if (low === null || low !== high || same.sentence === fresh.sentence) same.raw = merged;
}

function addFormats(drafts: Draft[], each: PlacedLimit, fresh: Draft): void {
  const same = drafts.find(
    (draft) =>
      draft.raw.kind === each.raw.kind && (draft.raw.appliesTo ?? 'any') === (each.raw.appliesTo ?? 'any'),
  );
  if (!same) {
    drafts.push(fresh);
    return;
  }
  const list = (raw: Record<string, unknown>, field: string) => (raw[field] as string[] | undefined) ?? [];
  const freshWanted = list(fresh.raw, 'wanted');
  const isReplaced = each.isCorrection && freshWanted.length > 0 && same.sentence < each.sentence;
  const wanted = [...new Set([...(isReplaced ? [] : list(same.raw, 'wanted')), ...freshWanted])];
  const refused = [...new Set([...list(same.raw, 'refused'), ...list(fresh.raw, 'refused')])].filter(
    (id) => !freshWanted.includes(id),
  );
  same.raw = {
    ...same.raw,
    wanted: wanted.filter((id) => !list(fresh.raw, 'refused').includes(id)),
    refused,
  };
  same.severity = same.severity === 'must' || each.severity === 'must' ? 'must' : 'should';
  same.places = isReplaced ? fresh.places : [...same.places, ...fresh.places];
  same.sentence = each.sentence;
}

/** The words themselves; places that stand close together are quoted as one. */
function quote(text: string, places: readonly { start: number; end: number }[]): string {
  const sorted = [...places].sort((left, right) => left.start - right.start);
  const first = sorted[0];
  if (!first) return '';
  let { end } = first;
  for (const place of sorted.slice(1))
    if (place.start - end < 50 && !/[.!?\n]/.test(text.slice(end, place.start)))
      end = Math.max(end, place.end);
  return text.slice(first.start, end).replace(/\s+/g, ' ').trim().slice(0, 500);
}

function isEqual(left: Record<string, unknown>, right: Record<string, unknown>): boolean {
  const write = (raw: Record<string, unknown>) =>
    JSON.stringify(
      Object.entries(raw)
        .filter(([, value]) => value !== null && value !== undefined && value !== false)
        .sort(([one], [two]) => (one < two ? -1 : 1)),
    );
  return write(left) === write(right);
}

function describe(raw: Draft['raw']): string {
  const parsed = Limit.safeParse({ id: 'x', ...raw });
  return parsed.success
    ? `${describeLimit(parsed.data).label.toLowerCase()} ${describeLimit(parsed.data).wanted}`
    : 'something else';
}
