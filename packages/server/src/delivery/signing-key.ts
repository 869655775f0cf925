import { writeCanonicalJson, type Receipt, type ReceiptBody } from '@apodix/core';
import {
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  sign,
  verify,
  type KeyObject,
} from 'node:crypto';
import { chmod, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/**
 * The Ed25519 key (RFC 8032) that receipts are signed with. It is made at the first start and stays in the
 * data folder.
 */
export class SigningKey {
  readonly #privateKey: KeyObject;

  constructor(privateKey: KeyObject) {
    this.#privateKey = privateKey;
  }

  static async open(dataFolder: string): Promise<SigningKey> {
    const path = join(dataFolder, 'receipt-key.pem');
    const pem = await readFile(path, 'utf8').catch(() => null);
    if (pem !== null) return new SigningKey(createPrivateKey(pem));
    const { privateKey } = generateKeyPairSync('ed25519');
    await writeFile(`${path}.new`, privateKey.export({ type: 'pkcs8', format: 'pem' }), { mode: 0o600 });
    await chmod(`${path}.new`, 0o600);
    await rename(`${path}.new`, path);
    return new SigningKey(privateKey);
  }

  signReceipt(body: ReceiptBody): Receipt {
    const value = sign(null, Buffer.from(writeCanonicalJson(body)), this.#privateKey).toString('base64');
    const publicKey = createPublicKey(this.#privateKey)
      .export({ type: 'spki', format: 'der' })
      .toString('base64');
    return { ...body, signature: { algorithm: 'Ed25519', publicKey, value } };
  }
}

/**
 * Whether a receipt is just as it was signed. Needs nothing but the receipt; compare its key with the
 * school's own.
 */
export function isReceiptGenuine(receipt: Receipt): boolean {
  const { signature, ...body } = receipt;
  try {
    const publicKey = createPublicKey({
      key: Buffer.from(signature.publicKey, 'base64'),
      type: 'spki',
      format: 'der',
    });
    return verify(
      null,
      Buffer.from(writeCanonicalJson(body)),
      publicKey,
      Buffer.from(signature.value, 'base64'),
    );
  } catch {
    return false;
  }
}
