import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { chmod, mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { z } from 'zod';

/** Who may call: every connected Apodix with a key of its own, and teachers with a password. */
export const AccessFile = z.object({
  connections: z.array(z.object({ name: z.string().min(1), key: z.string().min(20) })),
  teachers: z.array(z.object({ name: z.string().min(1), password: z.string().min(12) })),
});
export type AccessFile = z.infer<typeof AccessFile>;

export type Caller =
  | { readonly kind: 'connection'; readonly name: string }
  | { readonly kind: 'teacher'; readonly name: string };

const TEACHER_MS = 8 * 3_600_000;

/**
 * Reads the file of keys; the first start writes one with a key and a password of its own, for its owner's
 * eyes alone. Rejects where there is one that cannot be read: it is never replaced.
 */
export async function openAccessFile(path: string): Promise<AccessFile> {
  const text = await readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (text !== null) return AccessFile.parse(JSON.parse(text));
  const secret = () => randomBytes(24).toString('base64url');
  const first: AccessFile = {
    connections: [{ name: 'Apodix', key: secret() }],
    teachers: [{ name: 'teacher', password: secret() }],
  };
  await mkdir(dirname(path), { recursive: true });
  await writeFile(`${path}.new`, JSON.stringify(first, null, 2), { mode: 0o600 });
  await chmod(`${path}.new`, 0o600);
  await rename(`${path}.new`, path);
  return first;
}

/** Tells callers by what they send along; teachers sign in first. */
export class Access {
  readonly #file: AccessFile;
  readonly #signedIn = new Map<string, { name: string; untilMs: number }>();

  constructor(file: AccessFile) {
    this.#file = file;
  }

  /** The caller that an `Authorization` header names; null for nobody who is known. */
  find(header: string | undefined): Caller | null {
    const token = /^Bearer (\S+)$/.exec(header ?? '')?.[1];
    if (token === undefined) return null;
    const connection = this.#file.connections.find((each) => isSame(each.key, token));
    if (connection) return { kind: 'connection', name: connection.name };
    const session = this.#signedIn.get(token);
    if (!session || session.untilMs < Date.now()) return null;
    return { kind: 'teacher', name: session.name };
  }

  /** A token for a teacher, good for eight hours; null where name or password is wrong. */
  signIn(name: string, password: string): string | null {
    const teacher = this.#file.teachers.find((each) => each.name === name && isSame(each.password, password));
    if (!teacher) return null;
    const token = randomBytes(24).toString('base64url');
    this.#signedIn.set(token, { name, untilMs: Date.now() + TEACHER_MS });
    return token;
  }
}

/** Compared by digest, in a time that tells nothing of where they differ. */
function isSame(wanted: string, given: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(wanted), digest(given));
}
