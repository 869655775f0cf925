import { ApodixError } from '@apodix/core';
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { Op } from 'sequelize';
import { PersonRow, PhoneLinkRow } from '../data/models.ts';

/** So long a code can be scanned, and so long the phone that did may send. */
const SCAN_MINUTES = 10;
const SEND_MINUTES = 60;
const MINUTE_MS = 60_000;

const hash = (secret: string) => createHash('sha256').update(secret).digest('hex');
const inMinutes = (minutes: number) => new Date(Date.now() + minutes * MINUTE_MS);

/** For whom a phone sends, and what for. */
export interface Sender {
  readonly person: PersonRow;
  /** null for a take that serves nothing yet. */
  readonly assignmentId: string | null;
  readonly expiresAt: Date;
}

/** A fresh link; its token is told this once and kept as a hash. */
export async function makePhoneLink(
  personId: string,
  assignmentId: string | null,
): Promise<{ token: string; expiresAt: Date }> {
  const token = randomBytes(24).toString('base64url');
  const expiresAt = inMinutes(SCAN_MINUTES);
  await PhoneLinkRow.create({
    id: randomUUID(),
    personId,
    assignmentId,
    tokenHash: hash(token),
    createdAt: new Date(),
    expiresAt,
  });
  return { token, expiresAt };
}

/**
 * Uses a token up and gives the secret that takes its place. Throws `PHONE_LINK_ENDED` where it was used
 * before, has run out, or never was.
 */
export async function openPhoneLink(token: string): Promise<{ secret: string; sender: Sender }> {
  const secret = randomBytes(24).toString('base64url');
  const expiresAt = inMinutes(SEND_MINUTES);
  // One statement decides: of two phones that scan at once only one is let in.
  const [count] = await PhoneLinkRow.update(
    { secretHash: hash(secret), expiresAt },
    { where: { tokenHash: hash(token), secretHash: null, expiresAt: { [Op.gt]: new Date() } } },
  );
  const sender = count === 1 ? await findSender(secret) : null;
  if (!sender) throw new ApodixError('PHONE_LINK_ENDED');
  return { secret, sender };
}

/** null where the secret is nobody's, or its time is over. */
export async function findSender(secret: string | null): Promise<Sender | null> {
  if (secret === null) return null;
  const link = await PhoneLinkRow.findOne({
    where: { secretHash: hash(secret), expiresAt: { [Op.gt]: new Date() } },
  });
  const person = link && (await PersonRow.findByPk(link.personId));
  return person && { person, assignmentId: link.assignmentId, expiresAt: link.expiresAt };
}

export const endPhoneLink = (secret: string | null): Promise<number> =>
  secret === null ? Promise.resolve(0) : PhoneLinkRow.destroy({ where: { secretHash: hash(secret) } });

export const removeEndedLinks = (now: Date): Promise<number> =>
  PhoneLinkRow.destroy({ where: { expiresAt: { [Op.lt]: now } } });
