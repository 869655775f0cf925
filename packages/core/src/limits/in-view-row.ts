import { namePart } from '../presence/look.ts';
import type { PartInView } from '../presence/seen.ts';
import { formatDuration } from '../units/duration.ts';
import type { LimitOf } from './limit.ts';
import { byPerson, leavesOpen, neverRefuses, type LimitRow, type Verdict } from './row.ts';
import type { Subject } from './subject.ts';
import { joinWords } from './words.ts';

/** Somebody who bows, or turns a page, is out of the picture for a moment: that is as wanted. */
const ENOUGH = 0.9;
const METHOD = 'looks at the recording twice a second, in your browser';

const nameParts = (limit: LimitOf<'in-view'>) => joinWords(limit.parts.map(namePart), 'and');
const percent = (share: number) => `${Math.round(share * 100)} %`;

export const inViewRow: LimitRow<'in-view'> = {
  kind: 'in-view',
  scope: 'file',
  judgedBy: 'either',
  label: () => 'In the picture',
  wanted: nameParts,
  concerns: (subject) => subject.mediaKind === 'video' || subject.mediaKind === 'photo',
  check: (limit, subject) => judgeInView(limit, subject),
  steer: leavesOpen,
  refuse: neverRefuses,
  fix: (limit) =>
    byPerson(`Move the camera so that ${nameParts(limit)} can be seen all the time, and record again.`),
};

function judgeInView(limit: LimitOf<'in-view'>, { inView }: Subject): Verdict {
  const wanted = inView?.filter(({ part }) => limit.parts.includes(part)) ?? [];
  if (wanted.length === 0)
    return {
      state: 'person',
      figure: null,
      method: 'left to a person',
      reason: `nobody has looked yet: are ${nameParts(limit)} in the picture?`,
    };
  const least = wanted.reduce((low, each) => (each.seenShare < low.seenShare ? each : low));
  const base = { figure: percent(least.seenShare), value: least.seenShare, unit: 'share', method: METHOD };
  if (least.seenShare >= ENOUGH)
    return { ...base, state: 'met', margin: least.seenShare - ENOUGH, reason: 'in the picture' };
  const isOpen = wanted.every((each) => each.seenShare + each.coveredShare + each.unsureShare >= ENOUGH);
  if (isOpen) return { ...base, state: 'person', reason: describeDoubt(least) };
  return { ...base, state: 'short', margin: least.seenShare - ENOUGH, reason: describeLoss(least) };
}

function describeDoubt({ part, coveredShare, unsureShare }: PartInView): string {
  return coveredShare > unsureShare
    ? 'your hands are behind something for part of the time: look for yourself'
    : `it is hard to tell whether ${namePart(part)} can be seen: look for yourself`;
}

function describeLoss({ part, seenShare, lost }: PartInView): string {
  const times = lost.slice(0, 3).map(({ startUs, finishUs }) => `${write(startUs)} to ${write(finishUs)}`);
  const where = times.length > 0 ? `, lost at ${joinWords(times, 'and')}` : '';
  return `${namePart(part)}: seen ${percent(seenShare)} of the time${where}`;
}

const write = (us: number) => formatDuration(us, 0);
