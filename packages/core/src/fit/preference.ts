import type { Preference } from './curves.ts';

/** What a subject needs first: movement for sport and dance, sharpness for pictures of a piece. */
export function findPreference(subject: string): Preference {
  if (/physical|sport|\bp\.?e\.?\b|dance|gym|athletic|movement/i.test(subject)) return 'motion';
  return /\bart\b|\barts\b|design|craft|photo|painting|sculpt|drawing/i.test(subject)
    ? 'sharpness'
    : 'balanced';
}
