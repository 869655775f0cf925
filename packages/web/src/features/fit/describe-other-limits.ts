import { fitSizeInside, readCeilings, readRate, type Limit, type VideoFacts } from '@apodix/core';

/**
 * What limits other than the one on bytes do to a video, in a few words each; none where they leave it as it
 * is.
 */
export function describeOtherLimits(limits: readonly Limit[], video: VideoFacts): string[] {
  const { size, floors, maxFrameRate, wantedVideoCodecs } = readCeilings(limits, 'video');
  const lines = Math.min(video.widthPx, video.heightPx);
  const rate = readRate(video.frameRate);
  const allowed = fitSizeInside(video, size, 2);
  const most = Math.min(allowed.widthPx, allowed.heightPx);
  return [
    ...(most < lines ? [`at most ${most} lines are allowed; the recording has ${lines}`] : []),
    ...(floors.shortEdgePx > 0 && floors.shortEdgePx <= lines
      ? [`fewer than ${floors.shortEdgePx} lines are not allowed`]
      : []),
    ...(maxFrameRate !== null && rate > maxFrameRate * 1.001
      ? [`at most ${trim(maxFrameRate)} pictures a second are allowed; the recording has ${trim(rate)}`]
      : []),
    ...(wantedVideoCodecs?.includes('hevc') && !wantedVideoCodecs.includes('h264')
      ? ['HEVC is asked for; its sizes are not tried beforehand']
      : []),
  ];
}

function trim(value: number): string {
  return String(Number(value.toFixed(2)));
}
