import { ApodixError } from '@apodix/core';
import { createEvents, type DateTime, type EventAttributes } from 'ics';
import { CalendarRow, PersonRow } from '../data/models.ts';
import { loadCards } from '../work/load-cards.ts';

/**
 * All due times of a person as iCalendar (RFC 5545), with a reminder a day before what is not handed in yet.
 * Throws `NOT_FOUND` where nobody has such an address.
 */
export async function writeCalendar(tokenHash: string): Promise<string> {
  const row = await CalendarRow.findOne({ where: { tokenHash } });
  const person = row ? await PersonRow.findByPk(row.personId) : null;
  if (!person) throw new ApodixError('NOT_FOUND');
  const cards = await loadCards(person);
  const events = cards.flatMap((card): EventAttributes[] => {
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
