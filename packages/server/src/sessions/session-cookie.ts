import type { Request, Response } from 'express';

const COOKIE = 'apodix_session';

/** The value of the session cookie; null where there is none. */
export function readSessionToken(request: { headers: { cookie?: string | undefined } }): string | null {
  const match = /(?:^|;\s*)apodix_session=([A-Za-z0-9_-]{20,100})/.exec(request.headers.cookie ?? '');
  return match?.[1] ?? null;
}

/** Behind TLS the cookie never travels in the clear; no script and no other site sees it in any case. */
const buildOptions = (request: Pick<Request, 'secure'>) =>
  ({ httpOnly: true, sameSite: 'strict', path: '/', secure: request.secure }) as const;

export function writeSessionCookie(request: Request, response: Response, token: string, hours: number): void {
  response.cookie(COOKIE, token, { ...buildOptions(request), maxAge: hours * 3_600_000 });
}

export function clearSessionCookie(request: Request, response: Response): void {
  response.clearCookie(COOKIE, buildOptions(request));
}
