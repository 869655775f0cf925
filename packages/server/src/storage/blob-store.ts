export interface AdoptOptions {
  /** Leaves the name that the file came under in place too, until its owner has written down what it is. */
  readonly isKept?: boolean;
}

/** Where bytes are kept, by their own SHA-256, written once. Any adapter passes `describeBlobStore`. */
export interface BlobStore {
  /**
   * Takes a finished file over (it is moved, not copied) and gives its SHA-256. The same bytes twice are one
   * blob.
   */
  adopt(path: string, options?: AdoptOptions): Promise<{ sha256: string; sizeBytes: number }>;
  /**
   * A file on this machine with those bytes, to be read and never written. Throws a `TypeError` for what is
   * no SHA-256.
   */
  pathOf(sha256: string): string;
  has(sha256: string): Promise<boolean>;
  /**
   * Removes bytes that nobody speaks of. What was adopted less than `graceMs` ago stays: whoever adopted it
   * may be about to write down that it is used. Gives whether they were removed.
   */
  removeUnused(sha256: string, graceMs: number, isUsed: () => Promise<boolean>): Promise<boolean>;
  list(): Promise<string[]>;
}
