import { formatBytes, formatDuration, isEveryMustMet, type MadeView } from '@apodix/core';
import { describePast } from '../../composables/describe-due.ts';

/** Bytes, length, size and when it was made: `21 MB · 1:40.0 · 1280×720 · made today 14:02`. */
export function describeMade(made: MadeView, now: number): string {
  const { durationUs, video, photo } = made.facts;
  const size = video ?? photo;
  return [
    formatBytes(made.sizeBytes),
    durationUs === null ? '' : formatDuration(durationUs, 1),
    size ? `${size.widthPx}×${size.heightPx}` : '',
    `made ${describePast(made.createdAt, now)}`,
  ]
    .filter(Boolean)
    .join(' · ');
}

/** How many of its limits were proven on the file. */
export function describeProof(made: MadeView): string {
  if (!isEveryMustMet(made.findings)) return 'a must falls short';
  const ofLimits = made.findings.filter((finding) => finding.of === 'limit');
  const proven = ofLimits.filter((finding) => finding.state === 'met').length;
  return `${proven} of ${ofLimits.length} limits proven on this very file`;
}
