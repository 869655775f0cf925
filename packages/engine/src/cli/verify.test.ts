import { createHash, generateKeyPairSync, sign, type KeyObject } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { VerifiedReceipt } from '../receipt/verify-receipt.ts';
import { runCommand } from './commands.ts';

/** Canonical JSON as docs/receipts.md writes it out, apart from the code under test. */
function canon(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canon).join()}]`;
  if (value === null || typeof value !== 'object') return JSON.stringify(value);
  const members = Object.entries(value).sort(([left], [right]) => (left < right ? -1 : 1));
  return `{${members.map(([name, member]) => `${JSON.stringify(name)}:${canon(member)}`).join()}}`;
}

const bytes = 'the very bytes';
const sha256 = createHash('sha256').update(bytes).digest('hex');
const body = {
  ...{ format: 'apodix-receipt', version: 2, receiptId: 'r-1', attempt: 1, person: 'Ineke Varga' },
  ...{ course: 'Music', assignment: 'Solo', dueAt: null, isLate: false, note: '', participants: '' },
  ...{ sentAt: '2026-11-27T15:59:58.000Z', receivedAt: '2026-11-27T15:59:59.000Z', isOwnWork: true },
  ...{ courseSite: { name: 'Course site', deliveryId: 'd-1' }, limitsFrom: 'course', answers: [] },
  files: [
    {
      ...{ slotId: 's', slotLabel: 'Video', fileName: 'Varga.mp4', sizeBytes: bytes.length },
      ...{ sha256, receivedSha256: sha256, findings: [] },
    },
  ],
};

let folder = '';
let school: { readonly privateKey: KeyObject; readonly publicKey: KeyObject };
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-verify-'));
  school = generateKeyPairSync('ed25519');
  await write('school.pem', school.publicKey.export({ type: 'spki', format: 'pem' }).toString());
  await write('other.pem', generateKeyPairSync('ed25519').publicKey.export({ type: 'spki', format: 'pem' }));
  await write('receipt.json', JSON.stringify(signed(body), null, 2));
  await write('copy.mp4', bytes);
  await write('wrong.mp4', 'other bytes');
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const write = (name: string, text: string | Buffer) => writeFile(join(folder, name), text);
function signed(of: object) {
  const der = school.publicKey.export({ type: 'spki', format: 'der' });
  const value = sign(null, Buffer.from(canon(of)), school.privateKey).toString('base64');
  return { ...of, signature: { algorithm: 'Ed25519', publicKey: der.toString('base64'), value } };
}
async function verify(...names: string[]) {
  const argv = names.map((name) => (name.startsWith('--') ? name : join(folder, name)));
  const { answer, exitCode } = await runCommand(['verify', ...argv], new AbortController().signal);
  return { exitCode, answer: answer as VerifiedReceipt & { isVerified: boolean; leftToPerson: string[] } };
}

describe('apodix verify RECEIPT', () => {
  it('ends with 0 where signature, key and files are right, and names the key and each file', async () => {
    const { exitCode, answer } = await verify('receipt.json', '--key', 'school.pem', 'copy.mp4');
    expect([exitCode, answer.isVerified, answer.isGenuine, answer.isByKey]).toEqual([0, true, true, true]);
    expect(answer.files).toEqual([{ path: 'copy.mp4', sha256, receiptName: 'Varga.mp4' }]);
    const der = school.publicKey.export({ type: 'spki', format: 'der' });
    expect(answer.fingerprint).toBe(createHash('sha256').update(der).digest('hex').slice(0, 16));
  });

  it('ends with 5 without a key: whose it is a person has to compare', async () => {
    const { exitCode, answer } = await verify('receipt.json');
    expect([exitCode, answer.isVerified, answer.leftToPerson.length]).toEqual([5, false, 1]);
  });

  it('ends with 1 for another key, another file, and a receipt of which a letter was changed', async () => {
    expect((await verify('receipt.json', '--key', 'other.pem')).exitCode).toBe(1);
    expect((await verify('receipt.json', '--key', 'school.pem', 'copy.mp4', 'wrong.mp4')).exitCode).toBe(1);
    await write('forged.json', JSON.stringify({ ...signed(body), isLate: true }));
    const { exitCode, answer } = await verify('forged.json', '--key', 'school.pem');
    expect([exitCode, answer.isGenuine, answer.isByKey]).toEqual([1, false, true]);
  });

  it('refuses in words what is no receipt or no key, and tells of a file that is not there', async () => {
    await expect(verify('copy.mp4')).rejects.toMatchObject({ code: 'BAD_RECEIPT' });
    await expect(verify('receipt.json', '--key', 'copy.mp4')).rejects.toMatchObject({ code: 'BAD_KEY' });
    await expect(verify('receipt.json', 'none.mp4')).rejects.toThrow(/There is no file/);
  });
});
