import { createHash, randomBytes } from 'node:crypto';
import { CalendarRow } from '../data/models.ts';
import { need, type Handlers } from '../routing/call.ts';
import { writeCalendar } from './calendar.ts';

const TOKEN_BYTES = 24;
export const hashCalendarToken = (token: string) => createHash('sha256').update(token).digest('hex');

export const calendarRoutes: Handlers<
  'readCalendarLink' | 'makeCalendarLink' | 'removeCalendarLink' | 'readCalendar'
> = {
  readCalendarLink: async ({ granted }) => ({
    madeAt: (await CalendarRow.findByPk(need(granted.person).id))?.madeAt.toISOString() ?? null,
  }),

  makeCalendarLink: async ({ granted }) => {
    const token = randomBytes(TOKEN_BYTES).toString('base64url');
    const madeAt = new Date();
    await CalendarRow.upsert({
      personId: need(granted.person).id,
      tokenHash: hashCalendarToken(token),
      madeAt,
    });
    return { path: `/api/calendar/${token}`, madeAt: madeAt.toISOString() };
  },

  removeCalendarLink: async ({ granted }) => {
    await CalendarRow.destroy({ where: { personId: need(granted.person).id } });
    return { isDone: true };
  },

  readCalendar: async ({ request, response }) => {
    response
      .type('text/calendar; charset=utf-8')
      .attachment('apodix.ics')
      .send(await writeCalendar(hashCalendarToken(String(request.params.token))));
    return undefined;
  },
};
