const LONG_EDGE = 640;

/** The picture of a video element now, at most 640 points along the long edge; null before there is one. */
export async function takeFrame(video: HTMLVideoElement): Promise<ImageBitmap | null> {
  const { videoWidth, videoHeight } = video;
  if (!videoWidth || !videoHeight || video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) return null;
  const scale = Math.min(1, LONG_EDGE / Math.max(videoWidth, videoHeight));
  return createImageBitmap(video, {
    resizeWidth: Math.round(videoWidth * scale),
    resizeHeight: Math.round(videoHeight * scale),
    resizeQuality: 'low',
  });
}
