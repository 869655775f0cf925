import type { Request, Response } from 'express';

const COOKIE = 'apodix_phone';

/** What a phone was given for its link; null where there is none. */
export function readPhoneSecret(cookie: string | null | undefined): string | null {
  return /(?:^|;\s*)apodix_phone=([A-Za-z0-9_-]{20,100})/.exec(cookie ?? '')?.[1] ?? null;
}

const buildOptions = (request: Pick<Request, 'secure'>) =>
  ({ httpOnly: true, sameSite: 'strict', path: '/api', secure: request.secure }) as const;

export function writePhoneCookie(request: Request, response: Response, secret: string, until: Date): void {
  response.cookie(COOKIE, secret, { ...buildOptions(request), expires: until });
}

export function clearPhoneCookie(request: Request, response: Response): void {
  response.clearCookie(COOKIE, buildOptions(request));
}
