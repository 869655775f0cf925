import { ApodixError } from '@apodix/core';
import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { readSessionToken } from '../sessions/session-cookie.ts';
import type { Services } from '../services/services.ts';

/** For counting alone, whose token it is holds for so long. */
const KNOWN_MS = 10_000;
const MOST_KNOWN = 2000;

/**
 * A film that is looked through is read in parts, dozens a second: they are counted by themselves, and may be
 * so many times as many.
 */
const PART_SHARE = 10;
const isPartOfFile = ({ method, path, headers }: Request) =>
  method === 'GET' && headers.range !== undefined && /^\/takes\/[^/]+\/files\/[^/]+$/.test(path);

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
  const allow = (limit: number) =>
    rateLimit({
      windowMs: 60_000,
      limit,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      keyGenerator: async (request: Request) => {
        const token = readSessionToken(request);
        const personId = token === null ? null : await findPerson(token);
        return personId === null ? `address ${ipKeyGenerator(request.ip ?? '')}` : `person ${personId}`;
      },
      handler: (_request, _response, next) => next(new ApodixError('TOO_MANY_REQUESTS')),
    });
  const all = allow(settings.APODIX_REQUESTS_PER_MINUTE);
  const parts = allow(PART_SHARE * settings.APODIX_REQUESTS_PER_MINUTE);
  return (request, response, next) => void (isPartOfFile(request) ? parts : all)(request, response, next);
}
