import type { PersonRow as Person } from '../data/models.ts';
import { PersonRow, SessionRow } from '../data/models.ts';
import { createHash, randomBytes } from 'node:crypto';
import type { Request, Response } from 'express';

const COOKIE = 'apodix_session';

function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

/** The value of the session cookie; null where there is none. */
export function readSessionToken(request: { headers: { cookie?: string | undefined } }): string | null {
  const match = /(?:^|;\s*)apodix_session=([A-Za-z0-9_-]{20,100})/.exec(request.headers.cookie ?? '');
  return match?.[1] ?? null;
}

/** Who is calling; null where nobody is signed in or the session has run out. */
export async function findCaller(request: {
  headers: { cookie?: string | undefined };
}): Promise<Person | null> {
  const token = readSessionToken(request);
  if (token === null) return null;
  const session = await SessionRow.findByPk(hashToken(token));
  if (!session || session.expiresAt < new Date()) return null;
  return PersonRow.findByPk(session.personId);
}

/** Starts a session: a random token in a strict same-site cookie, its hash in the database. */
export async function startSession(response: Response, personId: string, hours: number): Promise<void> {
  const token = randomBytes(32).toString('base64url');
  await SessionRow.create({
    tokenHash: hashToken(token),
    personId,
    expiresAt: new Date(Date.now() + hours * 3_600_000),
  });
  response.cookie(COOKIE, token, {
    httpOnly: true,
    sameSite: 'strict',
    path: '/',
    maxAge: hours * 3_600_000,
  });
}

export async function endSession(request: Request, response: Response): Promise<void> {
  const token = readSessionToken(request);
  if (token !== null) await SessionRow.destroy({ where: { tokenHash: hashToken(token) } });
  response.clearCookie(COOKIE, { path: '/' });
}
