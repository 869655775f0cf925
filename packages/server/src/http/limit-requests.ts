import { ApodixError } from '@apodix/core';
import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { readSessionToken } from '../sessions/session-cookie.ts';
import type { Services } from '../services/services.ts';

/**
 * So many requests a minute for each person who is signed in, wherever they sit: a whole school may share one
 * address. Who is not signed in is counted by address.
 */
export function limitRequests({
  sessions,
  settings,
}: Pick<Services, 'sessions' | 'settings'>): RequestHandler {
  return rateLimit({
    windowMs: 60_000,
    limit: settings.APODIX_REQUESTS_PER_MINUTE,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    keyGenerator: async (request: Request) => {
      const token = readSessionToken(request);
      const personId = token === null ? null : await sessions.find(token);
      return personId === null ? `address ${ipKeyGenerator(request.ip ?? '')}` : `person ${personId}`;
    },
    handler: (_request, _response, next) => next(new ApodixError('TOO_MANY_REQUESTS')),
  });
}
