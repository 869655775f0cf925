import { z } from 'zod';

/** The course site that Apodix is connected to, and the key by which it is known there. */
export const CourseSite = z.object({ url: z.url(), key: z.string().nullable() });
export type CourseSite = z.infer<typeof CourseSite>;

/** One call; whoever calls says who they are. */
export function callCourseSite(
  { url, key }: CourseSite,
  path: string,
  init: RequestInit = {},
): Promise<Response> {
  const headers = new Headers(init.headers);
  if (key !== null) headers.set('authorization', `Bearer ${key}`);
  return fetch(new URL(path, url), { ...init, headers });
}
