import { ApodixError, Receipt, writeCanonicalJson, type ReceiptFile } from '@apodix/core';
import { createHash, createPublicKey, verify, type KeyObject } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import type { z } from 'zod';
import { hashFile } from '../process/hash-file.ts';

/** What was found of one file that a receipt is held against. */
export interface VerifiedFile {
  readonly path: string;
  readonly sha256: string;
  /** The name under which the receipt holds just these bytes; null where it does not. */
  readonly receiptName: string | null;
}

export interface VerifiedReceipt {
  /** Just as it was signed. */
  readonly isGenuine: boolean;
  /** Signed with the key that was given; null where none was. */
  readonly isByKey: boolean | null;
  /** First 16 hexadecimal digits of the SHA-256 of the key that it was signed with (DER). */
  readonly fingerprint: string;
  readonly files: readonly VerifiedFile[];
  readonly receipt: Receipt;
}

/**
 * Whether a receipt is just as it was signed (Ed25519, RFC 8032, over canonical JSON, RFC 8785). Needs
 * nothing but the receipt; whose key it is only the school's own key can tell.
 */
export function isReceiptGenuine(receipt: Receipt): boolean {
  const { signature, ...body } = receipt;
  try {
    const key = { key: Buffer.from(signature.publicKey, 'base64'), type: 'spki', format: 'der' } as const;
    const value = Buffer.from(signature.value, 'base64');
    return verify(null, Buffer.from(writeCanonicalJson(body)), createPublicKey(key), value);
  } catch {
    return false;
  }
}

/**
 * Holds a receipt against its signature, against the school's public key (PEM) and against files.
 *
 * Throws `BAD_RECEIPT` where the text is no receipt, `BAD_KEY` where the key is none.
 */
export async function verifyReceipt(
  receiptPath: string,
  keyPath: string | null,
  filePaths: readonly string[],
): Promise<VerifiedReceipt> {
  const receipt = parseReceipt(await readFile(receiptPath, 'utf8'));
  const signedWith = Buffer.from(receipt.signature.publicKey, 'base64');
  const files: VerifiedFile[] = [];
  for (const path of filePaths) {
    const sha256 = await hashFile(path);
    files.push({ path: basename(path), sha256, receiptName: findName(receipt.files, sha256) });
  }
  return {
    isGenuine: isReceiptGenuine(receipt),
    isByKey: keyPath === null ? null : parseKey(await readFile(keyPath, 'utf8')).equals(signedWith),
    fingerprint: createHash('sha256').update(signedWith).digest('hex').slice(0, 16),
    files,
    receipt,
  };
}

function parseReceipt(text: string): Receipt {
  try {
    return Receipt.parse(JSON.parse(text));
  } catch (error) {
    throw new ApodixError('BAD_RECEIPT', { cause: error });
  }
}

/** The DER form of a public key. */
function parseKey(pem: string): Buffer {
  try {
    const key: KeyObject = createPublicKey(pem);
    return key.export({ type: 'spki', format: 'der' });
  } catch (error) {
    throw new ApodixError('BAD_KEY', { cause: error });
  }
}

const findName = (files: readonly z.infer<typeof ReceiptFile>[], sha256: string) =>
  files.find((file) => file.sha256 === sha256 && file.receivedSha256 === sha256)?.fileName ?? null;
