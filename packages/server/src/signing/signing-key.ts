import { writeCanonicalJson, type PublicKeyView, type Receipt, type ReceiptBody } from '@apodix/core';
import {
  createHash,
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  randomUUID,
  sign,
  type KeyObject,
} from 'node:crypto';
import { link, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** The public half, for anyone who checks receipts. */
export const PUBLIC_KEY_FILE = 'receipt-key.pub.pem';

/**
 * The Ed25519 key (RFC 8032) that receipts are signed with. It is made at the first start and stays in the
 * data folder.
 */
export class SigningKey {
  readonly #privateKey: KeyObject;

  constructor(privateKey: KeyObject) {
    this.#privateKey = privateKey;
  }

  /** Rejects where a key is there and cannot be read: it is never replaced. */
  static async open(dataFolder: string): Promise<SigningKey> {
    const path = join(dataFolder, 'receipt-key.pem');
    const pem = (await readKey(path)) ?? (await writeKey(path));
    const key = new SigningKey(createPrivateKey(pem));
    await writeFile(join(dataFolder, PUBLIC_KEY_FILE), key.describePublicKey().pem);
    return key;
  }

  /** What receipts are checked with; anyone may have it. */
  describePublicKey(): PublicKeyView {
    const key = createPublicKey(this.#privateKey);
    const der = key.export({ type: 'spki', format: 'der' });
    return {
      algorithm: 'Ed25519',
      publicKey: der.toString('base64'),
      pem: key.export({ type: 'spki', format: 'pem' }).toString(),
      fingerprint: createHash('sha256').update(der).digest('hex').slice(0, 16),
    };
  }

  signReceipt(body: ReceiptBody): Receipt {
    const value = sign(null, Buffer.from(writeCanonicalJson(body)), this.#privateKey).toString('base64');
    const publicKey = createPublicKey(this.#privateKey)
      .export({ type: 'spki', format: 'der' })
      .toString('base64');
    return { ...body, signature: { algorithm: 'Ed25519', publicKey, value } };
  }
}

/** null only where there is none. */
async function readKey(path: string): Promise<string | null> {
  return readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
}

/** Makes a key; where another process has just made one, that is the key. */
async function writeKey(path: string): Promise<string> {
  const fresh = `${path}.${randomUUID()}`;
  const { privateKey } = generateKeyPairSync('ed25519');
  await writeFile(fresh, privateKey.export({ type: 'pkcs8', format: 'pem' }), { mode: 0o600 });
  try {
    await link(fresh, path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  } finally {
    await rm(fresh, { force: true });
  }
  return readFile(path, 'utf8');
}
