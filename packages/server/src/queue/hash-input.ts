import { writeCanonicalJson } from '@apodix/core';
import { createHash } from 'node:crypto';

/** Raised whenever the same input would come out as another file. */
const MAKER_VERSION = 6;

/** SHA-256 over any plain data in canonical form, so that the same input is known again. */
export function hashInput(input: unknown): string {
  return createHash('sha256')
    .update(writeCanonicalJson({ input, version: MAKER_VERSION }))
    .digest('hex');
}
