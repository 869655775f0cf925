/** Who is signed in, by a secret token. Any adapter passes `describeSessionStore`. */
export interface SessionStore {
  /** A fresh token for a person, good for so many hours. */
  start(personId: string, hours: number): Promise<string>;
  /** Whose token it is; null where nobody's, or it has run out. */
  find(token: string): Promise<string | null>;
  end(token: string): Promise<void>;
  /** Forgets what has run out; gives how many. */
  removeExpired(now: Date): Promise<number>;
  /** Whether a person has any session that still holds. */
  hasAny(personId: string): Promise<boolean>;
}
