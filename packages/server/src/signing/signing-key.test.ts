import type { Receipt, ReceiptBody } from '@apodix/core';
import { mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { isReceiptGenuine } from '@apodix/engine';
import { SigningKey } from './signing-key.ts';

let folder = '';
beforeEach(async () => (folder = await mkdtemp(join(tmpdir(), 'apodix-key-'))));
afterEach(async () => rm(folder, { recursive: true, force: true }));

const body: ReceiptBody = {
  format: 'apodix-receipt',
  version: 1,
  receiptId: 'r-1',
  attempt: 1,
  person: 'Ineke Varga',
  course: 'Music',
  assignment: 'Marimba solo',
  dueAt: '2026-11-27T16:00:00.000Z',
  sentAt: '2026-11-27T15:59:58.000Z',
  receivedAt: '2026-11-27T15:59:59.000Z',
  isLate: false,
  courseSite: { name: 'Course site', deliveryId: 'd-1' },
  note: '',
  participants: '',
  isOwnWork: true,
  files: [
    {
      slotId: 's',
      slotLabel: 'Recording',
      fileName: 'Varga.mp4',
      sizeBytes: 1000,
      sha256: 'a'.repeat(64),
      receivedSha256: 'a'.repeat(64),
      findings: [],
    },
  ],
};

describe('receipts', () => {
  it('are genuine as they were signed, also after having been written and read', async () => {
    const receipt = (await SigningKey.open(folder)).signReceipt(body);
    expect(isReceiptGenuine(receipt)).toBe(true);
    expect(isReceiptGenuine(JSON.parse(JSON.stringify(receipt, null, 2)) as Receipt)).toBe(true);
    // The order in which a reader lists the members does not matter.
    expect(isReceiptGenuine(Object.fromEntries(Object.entries(receipt).reverse()) as Receipt)).toBe(true);
  });

  it('are not once anything in them has been changed', async () => {
    const receipt = (await SigningKey.open(folder)).signReceipt(body);
    const [file] = receipt.files;
    if (!file) throw new TypeError('a file was given');
    const forged: Receipt[] = [
      { ...receipt, receivedAt: '2026-11-26T15:59:59.000Z' },
      { ...receipt, isLate: true },
      { ...receipt, files: [{ ...file, sha256: 'b'.repeat(64) }] },
      { ...receipt, files: [file, file] },
      {
        ...receipt,
        signature: {
          ...receipt.signature,
          value: receipt.signature.value.replace(/^./, (first) => (first === 'A' ? 'B' : 'A')),
        },
      },
      { ...receipt, signature: { ...receipt.signature, publicKey: 'bm9uZQ==' } },
      { ...receipt, signature: { ...receipt.signature, value: '' } },
    ];
    expect(forged.map((each) => isReceiptGenuine(each))).toEqual(forged.map(() => false));
  });

  it('of another school verify with their own key only', async () => {
    const other = (await SigningKey.open(await mkdtemp(join(folder, 'other-')))).signReceipt(body);
    const own = (await SigningKey.open(folder)).signReceipt(body);
    expect(isReceiptGenuine(other)).toBe(true);
    expect(other.signature.publicKey).not.toBe(own.signature.publicKey);
    expect(
      isReceiptGenuine({ ...own, signature: { ...own.signature, publicKey: other.signature.publicKey } }),
    ).toBe(false);
  });
});

describe('the key', () => {
  it('stays the same from start to start, readable by nobody else', async () => {
    const first = (await SigningKey.open(folder)).signReceipt(body);
    expect((await SigningKey.open(folder)).signReceipt(body)).toEqual(first);
    expect((await stat(join(folder, 'receipt-key.pem'))).mode & 0o077).toBe(0);
  });

  it('that is damaged is told and not replaced: receipts signed with it would lose their proof', async () => {
    await writeFile(join(folder, 'receipt-key.pem'), 'not a key');
    await expect(SigningKey.open(folder)).rejects.toThrow();
  });
});

describe('the key of a school', () => {
  const path = () => join(folder, 'receipt-key.pem');
  it('that is there and cannot be read is told, and never replaced', async () => {
    await writeFile(path(), 'not a key');
    await expect(SigningKey.open(folder)).rejects.toThrow();
    expect(await readFile(path(), 'utf8')).toBe('not a key');
    await rm(path());
    // A folder in its place stands for any other fault of reading.
    await mkdir(path());
    await expect(SigningKey.open(folder)).rejects.toThrow(/EISDIR/);
    expect((await stat(path())).isDirectory()).toBe(true);
  });

  it('is one, where several processes start at once', async () => {
    const keys = await Promise.all(Array.from({ length: 8 }, () => SigningKey.open(folder)));
    expect(new Set(keys.map((key) => key.signReceipt(body).signature.publicKey)).size).toBe(1);
    expect((await stat(path())).mode & 0o777).toBe(0o600);
  });
});
