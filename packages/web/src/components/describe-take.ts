import { containerTable, formatBytes, formatDuration, writeCodec, type MediaFacts } from '@apodix/core';

/** Facts on one line: `0:40 · 8.7 MB · 960×540 · MOV, HEVC`. */
export function describeFacts(facts: MediaFacts): string {
  const picture = facts.video ?? facts.photo;
  const codec = facts.video?.codec ?? facts.sound?.codec;
  return [
    facts.durationUs === null ? '' : formatDuration(facts.durationUs),
    formatBytes(facts.sizeBytes),
    picture && facts.container !== 'pdf' ? `${picture.widthPx}×${picture.heightPx}` : '',
    facts.container === 'pdf'
      ? (facts.document?.pageCount ?? 1) === 1
        ? 'one page'
        : `${facts.document?.pageCount} pages`
      : '',
    [containerTable[facts.container].label, codec ? writeCodec(codec) : ''].filter(Boolean).join(', '),
  ]
    .filter(Boolean)
    .join(' · ');
}
