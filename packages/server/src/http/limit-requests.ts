import { ApodixError } from '@apodix/core';
import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { readSessionToken } from '../sessions/session-cookie.ts';
import type { Services } from '../services/services.ts';

/** For counting alone, whose token it is holds for so long. */
const KNOWN_MS = 10_000;
const MOST_KNOWN = 2000;

/**
 * So many requests a minute for each person who is signed in, wherever they sit: a whole school may share one
 * address. Who is not signed in is counted by address.
 */
export function limitRequests({
  sessions,
  settings,
}: Pick<Services, 'sessions' | 'settings'>): RequestHandler {
  const known = new Map<string, { readonly personId: string; readonly untilMs: number }>();
  const findPerson = async (token: string) => {
    const own = known.get(token);
    if (own && own.untilMs > Date.now()) return own.personId;
    const personId = await sessions.find(token);
    if (known.size >= MOST_KNOWN) known.clear();
    if (personId !== null) known.set(token, { personId, untilMs: Date.now() + KNOWN_MS });
    return personId;
  };
  return rateLimit({
    windowMs: 60_000,
    limit: settings.APODIX_REQUESTS_PER_MINUTE,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    keyGenerator: async (request: Request) => {
      const token = readSessionToken(request);
      const personId = token === null ? null : await findPerson(token);
      return personId === null ? `address ${ipKeyGenerator(request.ip ?? '')}` : `person ${personId}`;
    },
    handler: (_request, _response, next) => next(new ApodixError('TOO_MANY_REQUESTS')),
  });
}
