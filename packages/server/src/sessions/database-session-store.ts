import { createHash, randomBytes } from 'node:crypto';
import { Op } from 'sequelize';
import { SessionRow } from '../data/models.ts';
import type { SessionStore } from './session-store.ts';

const hashToken = (token: string) => createHash('sha256').update(token).digest('hex');

/** Sessions in the database, which never holds a token but its SHA-256. */
export class DatabaseSessionStore implements SessionStore {
  async start(personId: string, hours: number): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    const expiresAt = new Date(Date.now() + hours * 3_600_000);
    await SessionRow.create({ tokenHash: hashToken(token), personId, expiresAt });
    return token;
  }

  async find(token: string): Promise<string | null> {
    const session = await SessionRow.findByPk(hashToken(token));
    return session && session.expiresAt > new Date() ? session.personId : null;
  }

  async end(token: string): Promise<void> {
    await SessionRow.destroy({ where: { tokenHash: hashToken(token) } });
  }

  removeExpired(now: Date): Promise<number> {
    return SessionRow.destroy({ where: { expiresAt: { [Op.lt]: now } } });
  }

  async hasAny(personId: string): Promise<boolean> {
    return (await SessionRow.count({ where: { personId, expiresAt: { [Op.gt]: new Date() } } })) > 0;
  }
}
