import type { Finding, ProofFinding } from '@apodix/core';

/** What is not met, in the words of its row. */
export const listOpen = (findings: readonly Finding[]) =>
  findings.filter(({ state }) => state !== 'met').map(({ label, sentence }) => `${label}: ${sentence}`);

const isProof = (finding: Finding): finding is ProofFinding => finding.of === 'proof';

/** Rows of the proof that are short. */
export const listShort = (findings: readonly Finding[]) =>
  findings.filter(isProof).flatMap(({ state, row }) => (state === 'short' ? [row] : []));
