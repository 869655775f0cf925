import type { PersonRow } from '../data/models.ts';
import type { Call } from '../routing/call.ts';
import type { Services } from '../services/services.ts';
import { writeSessionCookie } from '../sessions/session-cookie.ts';
import { viewPerson } from '../work/view-person.ts';

/** Signs somebody in on the device that calls. */
export async function startSession(call: Call, person: PersonRow, hours: number): Promise<void> {
  const token = await call.services.sessions.start(person.id, hours);
  writeSessionCookie(call.request, call.response, token, hours);
}

export const viewSession = (person: PersonRow | null, { settings }: Pick<Services, 'settings'>) => ({
  person: person && viewPerson(person),
  locale: settings.APODIX_LOCALE,
});
