import type { FaceFound, FoundPoint, HandFound, Look, Part } from '@apodix/core';
import { FaceDetector, HandLandmarker, PoseLandmarker } from '@mediapipe/tasks-vision';
import { drawFrame, type Frame } from '../reading/take-frame.ts';

/*
 * Looks for faces, hands and bodies on the person's own machine. A picture comes in, places go out; nothing
 * is kept and nothing is sent anywhere.
 */

export type PresenceRequest =
  | { readonly do: 'open'; readonly folder: string; readonly parts: readonly Part[] }
  | { readonly do: 'look'; readonly frame: Frame; readonly longEdge: number };
export type PresenceAnswer =
  | { readonly told: 'open' }
  | { readonly told: 'look'; readonly look: Look }
  | { readonly told: 'fault'; readonly fault: string };

// The loader is cleared away after each finder was made, and is needed for the next one.
let loader: unknown;
Object.defineProperty(self, 'ModuleFactory', {
  configurable: true,
  get: () => loader,
  set: (next: unknown) => {
    loader = next ?? loader;
  },
});

interface Finders {
  face: FaceDetector | null;
  hands: HandLandmarker | null;
  body: PoseLandmarker | null;
}
const finders: Finders = { face: null, hands: null, body: null };

async function open({ folder, parts }: Extract<PresenceRequest, { do: 'open' }>): Promise<void> {
  const files = { wasmLoaderPath: `${folder}/vision.js`, wasmBinaryPath: `${folder}/vision.wasm` };
  const read = async (name: string) => {
    const answer = await fetch(`${folder}/${name}`);
    if (!answer.ok) throw new Error(`${name} could not be read: ${answer.status}.`);
    return new Uint8Array(await answer.arrayBuffer());
  };
  const base = async (name: string) => ({
    baseOptions: { modelAssetBuffer: await read(name), delegate: 'CPU' as const },
    // Each picture for itself: what is followed from picture to picture is found where it is no more.
    runningMode: 'IMAGE' as const,
  });
  if (parts.includes('face'))
    finders.face ??= await FaceDetector.createFromOptions(files, await base('face.tflite'));
  if (parts.includes('hands'))
    finders.hands ??= await HandLandmarker.createFromOptions(files, {
      ...(await base('hands.task')),
      numHands: 2,
    });
  // Where hands are looked for, arms tell whether something covers them.
  if (parts.includes('body') || parts.includes('hands'))
    finders.body ??= await PoseLandmarker.createFromOptions(files, await base('pose.task'));
}

const BODY_EVERY = 3;
let turn = 0;
let lastBody: readonly FoundPoint[] | null = null;

function look(frame: OffscreenCanvas): Look {
  turn += 1;
  const { width, height } = frame;
  const faces = finders.face?.detect(frame).detections ?? [];
  const hands = finders.hands?.detect(frame);
  // Arms move less than fingers: beside hands every third look is enough.
  if (finders.body && (!finders.hands || turn % BODY_EVERY === 1)) {
    const [points] = finders.body.detect(frame).landmarks;
    lastBody = points?.map(({ x, y, visibility }) => ({ x, y, visibility })) ?? null;
  }
  return {
    faces: faces.flatMap(({ boundingBox, categories }): FaceFound[] =>
      boundingBox
        ? [
            {
              x: boundingBox.originX / width,
              y: boundingBox.originY / height,
              width: boundingBox.width / width,
              height: boundingBox.height / height,
              score: categories[0]?.score ?? 0,
            },
          ]
        : [],
    ),
    hands: (hands?.landmarks ?? []).map((points, index): HandFound => ({
      points: points.map(({ x, y }) => ({ x, y, visibility: 1 })),
      score: hands?.handedness[index]?.[0]?.score ?? 0,
    })),
    body: lastBody,
  };
}

let drawn: OffscreenCanvas | null = null;
let last: Promise<unknown> = Promise.resolve();
const answer = (words: PresenceAnswer) => self.postMessage(words);
self.onmessage = ({ data }: MessageEvent<PresenceRequest>) => {
  last = last
    .then(async () => {
      if (data.do === 'open') {
        await open(data);
        return answer({ told: 'open' });
      }
      drawn = drawFrame(data.frame, data.longEdge, drawn).canvas;
      answer({ told: 'look', look: look(drawn) });
    })
    .catch((error: unknown) => answer({ told: 'fault', fault: String(error) }));
};
