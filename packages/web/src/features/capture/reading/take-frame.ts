/** A picture on its way to a worker, at any size; whoever has it closes it. */
export type Frame = ImageBitmap | VideoFrame;

/** Long edge of a picture that is looked at closely. */
export const LOOK_EDGE = 640;

/**
 * The picture of a video element now; null before there is one. Where the browser can it is handed over as
 * it is, so that the page does not have to shrink it: `drawFrame` does that in the worker.
 */
export async function takeFrame(video: HTMLVideoElement): Promise<Frame | null> {
  const { videoWidth, videoHeight } = video;
  if (!videoWidth || !videoHeight || video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) return null;
  const whole = takeWhole(video);
  if (whole) return whole;
  const scale = Math.min(1, LOOK_EDGE / Math.max(videoWidth, videoHeight));
  return createImageBitmap(video, {
    resizeWidth: Math.round(videoWidth * scale),
    resizeHeight: Math.round(videoHeight * scale),
    resizeQuality: 'low',
  });
}

function takeWhole(video: HTMLVideoElement): VideoFrame | null {
  if (typeof VideoFrame === 'undefined') return null;
  try {
    const frame = new VideoFrame(video);
    // Some browsers leave out that a picture is turned.
    const isUpright = frame.displayWidth > frame.displayHeight === video.videoWidth > video.videoHeight;
    if (isUpright) return frame;
    frame.close();
  } catch {
    // Not every kind of picture can be handed over.
  }
  return null;
}

export interface DrawnFrame {
  readonly canvas: OffscreenCanvas;
  readonly context: OffscreenCanvasRenderingContext2D;
}

/**
 * Draws a frame with its long edge at most `longEdge`, on `canvas` where that has the size already, and
 * closes it.
 */
export function drawFrame(frame: Frame, longEdge: number, canvas: OffscreenCanvas | null = null): DrawnFrame {
  const [width, height] =
    'displayWidth' in frame ? [frame.displayWidth, frame.displayHeight] : [frame.width, frame.height];
  const scale = Math.min(1, longEdge / Math.max(width, height));
  const [drawnWidth, drawnHeight] = [Math.round(width * scale), Math.round(height * scale)];
  const isSame = canvas?.width === drawnWidth && canvas.height === drawnHeight;
  const onto = isSame ? canvas : new OffscreenCanvas(drawnWidth, drawnHeight);
  const context = onto.getContext('2d', { willReadFrequently: true });
  if (!context) throw new Error('This browser cannot read pictures in a worker.');
  context.drawImage(frame, 0, 0, drawnWidth, drawnHeight);
  frame.close();
  return { canvas: onto, context };
}
