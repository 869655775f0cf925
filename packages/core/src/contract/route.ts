import type { z } from 'zod';

/**
 * Who may call a route. `anyone` needs no session; `person` any session, guests included; the others name the
 * thing in the path that has to belong to the caller (or, where it says so, that the caller teaches).
 */
export type Access =
  | 'anyone'
  | 'person'
  | 'assignment'
  | 'own-assignment'
  | 'removed-assignment'
  | 'assignment-take'
  | 'take'
  | 'card'
  | 'removed-take'
  | 'made'
  | 'own-made'
  | 'removed-made'
  | 'job'
  | 'receipt';

export interface Route {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** In Express form; parameters are ids unless the server parses them otherwise. */
  readonly path: string;
  readonly access: Access;
  readonly body: z.ZodType | null;
  /** How much of a body is read, where it may be more than usual. */
  readonly mostBodyBytes?: number;
  /** null for streams and files. */
  readonly answer: z.ZodType | null;
  readonly purpose: string;
}
