import { z } from 'zod';
import { Finding, LimitFinding } from '../limits/finding.ts';

const Sha256 = z.string().regex(/^[0-9a-f]{64}$/);

/** A finding as the first receipts hold it: those of the proof were told apart by their kind alone. */
const FirstFinding = LimitFinding.omit({ of: true }).strict();

export const ReceiptFile = z.object({
  slotId: z.string(),
  slotLabel: z.string(),
  fileName: z.string(),
  sizeBytes: z.int().positive(),
  sha256: Sha256,
  /** SHA-256 that the course site computed on what it received. */
  receivedSha256: Sha256,
  findings: z.array(z.union([Finding, FirstFinding])),
});

/**
 * By which limits a hand-in was judged: those that the course announced as limits, or those that were read
 * from its instructions, there with or without the student's own corrections.
 */
export const LimitsOrigin = z.enum(['course', 'read', 'read-and-corrected']);
export type LimitsOrigin = z.infer<typeof LimitsOrigin>;

export const ReceiptAnswer = z.object({
  slotId: z.string(),
  slotLabel: z.string(),
  item: z.enum(['text', 'link']),
  text: z.string(),
});

/**
 * What was delivered, when, and what was proven on it. `signature` covers all other members in canonical JSON
 * (RFC 8785).
 */
export const ReceiptBody = z.object({
  format: z.literal('apodix-receipt'),
  /** Since 2 with answers and the limits' origin. */
  version: z.union([z.literal(1), z.literal(2)]),
  receiptId: z.string(),
  attempt: z.int().positive(),
  person: z.string(),
  course: z.string(),
  assignment: z.string(),
  dueAt: z.iso.datetime().nullable(),
  sentAt: z.iso.datetime(),
  receivedAt: z.iso.datetime(),
  isLate: z.boolean(),
  courseSite: z.object({ name: z.string(), deliveryId: z.string() }),
  note: z.string(),
  participants: z.string(),
  isOwnWork: z.boolean(),
  limitsFrom: LimitsOrigin.optional(),
  answers: z.array(ReceiptAnswer).optional(),
  files: z.array(ReceiptFile),
});
export type ReceiptBody = z.infer<typeof ReceiptBody>;

export const Receipt = ReceiptBody.extend({
  signature: z.object({ algorithm: z.literal('Ed25519'), publicKey: z.string(), value: z.string() }),
});
export type Receipt = z.infer<typeof Receipt>;
