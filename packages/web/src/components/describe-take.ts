import {
  containerTable,
  formatBytes,
  formatDuration,
  readRate,
  writeCodec,
  type MediaFacts,
} from '@apodix/core';

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

/** What is worth knowing about a take before work begins, in plain words. */
export function describeRemarks(facts: MediaFacts): string[] {
  const remarks: string[] = [];
  const { video, sound } = facts;
  if (video?.rotationDegrees) remarks.push('filmed with the phone turned');
  if (video?.hdr) remarks.push('bright-range colour, will be converted');
  if (video && video.bitDepth > 8) remarks.push(`${video.bitDepth}-bit colour`);
  if (video?.rateKind === 'variable') remarks.push('uneven frame rate, will be evened');
  if (video && readRate(video.frameRate) >= 48)
    remarks.push(`${Math.round(readRate(video.frameRate))} pictures a second`);
  if (video && video.interlace !== 'progressive') remarks.push('interlaced, will be made whole');
  if (facts.kind === 'video' && !sound) remarks.push('no sound');
  if (sound && sound.loudnessLufs === null) remarks.push('silent');
  else if (sound?.loudnessLufs !== null && sound !== null && (sound.loudnessLufs ?? 0) < -26)
    remarks.push('sounds quiet');
  if (facts.locationPresent) remarks.push('place inside, will be left out');
  return remarks;
}
