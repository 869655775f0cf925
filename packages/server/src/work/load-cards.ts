import {
  buildNameContext,
  findSlotOf,
  FitChoice,
  joinLimits,
  joinStates,
  type AssignmentCard,
  type FindingState,
  type Limits,
} from '@apodix/core';
import { setImmediate as giveWay } from 'node:timers/promises';
import { HandInRow, RecipeRow, type PersonRow } from '../data/models.ts';
import { CardFacts, readCardFacts } from './card-rows.ts';
import { findDueAt } from './find-due-at.ts';
import { hashMakeInputs, judgeMadeFile } from './judge-files.ts';
import { Remembered, ShortNames } from './remembered.ts';
import { EMPTY_PARCEL, viewCard, type CardWork } from './view-card.ts';
import { stateOf } from './view-take.ts';

/** Others come to their turn after so long. */
const LONGEST_TURN_MS = 8;
const MOST_REMEMBERED = 20_000;

const cards = new Remembered<{ readonly facts: string; readonly card: AssignmentCard }>(MOST_REMEMBERED);
const hashes = new Remembered<string>(MOST_REMEMBERED);
const provenStates = new Remembered<FindingState>(MOST_REMEMBERED);
const shortNames = new ShortNames(MOST_REMEMBERED);

/**
 * The cards of all of a person's assignments. One query gives all that a card follows from; where its text is
 * what it was, so is the card. The insides of recipes and made files are read only where something changed.
 */
export async function loadCards(person: PersonRow): Promise<AssignmentCard[]> {
  const { firstName, surname, candidateNumber, role } = person;
  const names = JSON.stringify([firstName, surname, candidateNumber, role]);
  const shown: AssignmentCard[] = [];
  let turnAt = performance.now();
  for (const { id, facts } of await readCardFacts(person.id)) {
    const key = `${person.id} ${id} ${names}`;
    const known = cards.get(key);
    if (known?.facts === facts) {
      shown.push(known.card);
      continue;
    }
    const card = viewCard(await buildCardWork(person, id, CardFacts.parse(JSON.parse(facts))));
    cards.set(key, { facts, card });
    shown.push(card);
    if (performance.now() - turnAt < LONGEST_TURN_MS) continue;
    await giveWay();
    turnAt = performance.now();
  }
  return shown;
}

async function buildCardWork(person: PersonRow, id: string, facts: CardFacts): Promise<CardWork> {
  const { kind, title, slots, setAt, courseTitle, subject, isAnnounced } = facts;
  const { limits } = joinLimits({ limits: facts.limits, isAnnounced }, facts.ownLimits);
  const parcel = facts.parcel ?? EMPTY_PARCEL;
  const nameContext = buildNameContext({ person, title, courseTitle: courseTitle ?? '' });
  const limitsKey = shortNames.of(JSON.stringify(limits));
  const contextKey = shortNames.of(JSON.stringify([limitsKey, nameContext]));
  const placing = { slots, items: parcel.items, made: facts.made };
  const made: CardWork['made'][number][] = [];
  for (const { inputHash, takeId, ...file } of facts.made) {
    const take = facts.takes.find((each) => each.id === takeId);
    const slotId = take ? findSlotOf(placing, take) : null;
    const hash = take && (await hashOf(take, { limits, limitsKey, subject: subject ?? '', slotId }));
    const seenAt = take?.seenAt ?? '';
    const verdict = await judgeMadeFile(file, { limits, nameContext, slotId }, `${contextKey} ${seenAt}`);
    made.push({ ...file, ...verdict, isCurrent: hash === inputHash, sourceSha256: take?.sha256 ?? null });
  }
  const handIns: CardWork['handIns'][number][] = [];
  for (const handIn of facts.handIns) handIns.push({ ...handIn, proven: await readProven(handIn.id) });
  return {
    assignment: { id, kind, title, slots, setAt },
    course: courseTitle === null ? null : { title: courseTitle, subject: subject ?? '' },
    dueAt: findDueAt(facts, facts.groupName),
    limits,
    takes: facts.takes.map((take) => ({ ...take, state: stateOf(take, { fault: take.hasFault }) })),
    made,
    parcel,
    handIns,
    isChanged: facts.isChanged,
  };
}

interface HashInputs {
  readonly limits: Limits;
  readonly limitsKey: string;
  readonly subject: string;
  readonly slotId: string | null;
}

/** The hash of what a take would be made by now; null where it cannot be made. */
async function hashOf(take: CardFacts['takes'][number], inputs: HashInputs): Promise<string | null> {
  const { limits, limitsKey, subject, slotId } = inputs;
  const { id: takeId, version, sha256, kind } = take;
  if (version === null || kind === null) return null;
  const key = `${takeId} ${version} ${limitsKey} ${subject} ${slotId ?? ''} ${take.choice ?? ''}`;
  const known = hashes.get(key);
  if (known !== undefined) return known;
  const newest = await RecipeRow.findOne({ where: { takeId, version } });
  if (!newest) return null;
  const choice = take.choice === null ? null : FitChoice.parse(JSON.parse(take.choice));
  const { recipe } = newest;
  return hashes.set(key, hashMakeInputs({ sha256, kind, recipe, choice, limits, subject, slotId }));
}

/** How a hand-in stands by the findings that were frozen with it; they never change. */
async function readProven(handInId: string): Promise<FindingState> {
  const known = provenStates.get(handInId);
  if (known !== undefined) return known;
  const row = await HandInRow.findByPk(handInId, { attributes: ['id', 'frozen'] });
  return provenStates.set(handInId, judgeFrozen(row));
}

export function judgeFrozen(row: Pick<HandInRow, 'frozen'> | null): FindingState {
  const findings = row?.frozen.files.flatMap((file) => file.findings) ?? [];
  return joinStates(findings.filter((finding) => finding.severity === 'must'));
}
