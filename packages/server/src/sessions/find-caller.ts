import { PersonRow } from '../data/models.ts';
import { readSessionToken } from './session-cookie.ts';
import type { SessionStore } from './session-store.ts';

/** Who is calling; null where nobody is signed in or the session has run out. */
export async function findCaller(
  sessions: SessionStore,
  request: { headers: { cookie?: string | undefined } },
): Promise<PersonRow | null> {
  const token = readSessionToken(request);
  const personId = token === null ? null : await sessions.find(token);
  return personId === null ? null : PersonRow.findByPk(personId);
}
