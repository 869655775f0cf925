import { ApodixError } from '@apodix/core';
import { createEvents, type DateTime, type EventAttributes } from 'ics';
import { randomBytes } from 'node:crypto';
import { CalendarRow, PersonRow } from '../data/models.ts';
import { findAssignmentsOf, loadWorks, viewCard } from './load-work.ts';

/** The secret part of a person's calendar address; made at the first call. */
export async function findCalendarToken(person: PersonRow): Promise<string> {
  const [row] = await CalendarRow.findOrCreate({
    where: { personId: person.id },
    defaults: { personId: person.id, token: randomBytes(24).toString('base64url') },
  });
  return row.token;
}

/**
 * All due times of a person as iCalendar (RFC 5545), with a reminder a day before what is not handed in yet.
 */
export async function writeCalendar(token: string): Promise<string> {
  const row = /^[A-Za-z0-9_-]{20,64}$/.test(token) ? await CalendarRow.findOne({ where: { token } }) : null;
  const person = row ? await PersonRow.findByPk(row.personId) : null;
  if (!person) throw new ApodixError('NOT_FOUND');
  const works = await loadWorks(person, await findAssignmentsOf(person));
  const events = works.flatMap((work): EventAttributes[] => {
    const card = viewCard(work);
    if (card.dueAt === null || card.kind === 'quick') return [];
    const isDone = card.state === 'handed-in' || card.state === 'feedback-back';
    return [
      {
        uid: `${card.id}@apodix`,
        title: `${isDone ? 'Handed in: ' : 'Due: '}${card.title}`,
        description: `${card.courseTitle}. ${card.situation} ${card.nextStep}`,
        start: toUtc(card.dueAt),
        startInputType: 'utc',
        startOutputType: 'utc',
        duration: { minutes: 15 },
        productId: 'apodix/calendar',
        calName: 'Apodix',
        busyStatus: 'FREE',
        ...(isDone
          ? {}
          : {
              alarms: [
                {
                  action: 'display',
                  description: `Due tomorrow: ${card.title}`,
                  trigger: { days: 1, before: true },
                },
              ],
            }),
      },
    ];
  });
  const { error, value } = createEvents(events, { productId: 'apodix/calendar', calName: 'Apodix' });
  if (error || !value) throw error ?? new Error('The calendar could not be written.');
  return value;
}

function toUtc(iso: string): DateTime {
  const date = new Date(iso);
  return [
    date.getUTCFullYear(),
    date.getUTCMonth() + 1,
    date.getUTCDate(),
    date.getUTCHours(),
    date.getUTCMinutes(),
  ];
}
