import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { addMetadata, buildMetadata } from './add-metadata.ts';
import { storeZip } from './store-zip.ts';

/** A picture from −1 to 1, and one from 0 to 1. */
const SIGNED = { mean: 127.5, deviation: 127.5 };
const UNIT = { mean: 0, deviation: 255 };

/**
 * The files that the finder of faces, hands and bodies needs, by name; made from packages of the registry
 * alone.
 */
export function buildVisionFiles(modulesFolder: string): Record<string, Uint8Array> {
  const read = (...path: string[]) =>
    new Uint8Array(readFileSync(join(modulesFolder, '@mediapipe', ...path)));
  const packed = (name: string, file: string) => {
    const loader = readFileSync(
      join(modulesFolder, '@mediapipe', name, `${name}_solution_packed_assets_loader.js`),
      'utf8',
    );
    const { start, end } = findPacked(loader, file);
    return read(name, `${name}_solution_packed_assets.data`).subarray(start, end);
  };
  const [signed, unit] = [buildMetadata(SIGNED), buildMetadata(UNIT)];
  const wasm = (ending: string) => read('tasks-vision', 'wasm', `vision_wasm_module_internal.${ending}`);
  return {
    'vision.js': wasm('js'),
    'vision.wasm': wasm('wasm'),
    'face.tflite': addMetadata(read('face_detection', 'face_detection_short_range.tflite'), signed),
    'hands.task': storeZip({
      'hand_detector.tflite': addMetadata(packed('hands', 'palm_detection_lite.tflite'), unit),
      'hand_landmarks_detector.tflite': addMetadata(read('hands', 'hand_landmark_lite.tflite'), unit),
    }),
    'pose.task': storeZip({
      'pose_detector.tflite': addMetadata(packed('pose', 'pose_detection.tflite'), signed),
      'pose_landmarks_detector.tflite': addMetadata(read('pose', 'pose_landmark_lite.tflite'), unit),
    }),
  };
}

/** Where a file lies within the packed ones, as their loader says. */
export function findPacked(loader: string, name: string): { start: number; end: number } {
  for (const [text] of loader.matchAll(/\{"filename"[^}]*\}/g)) {
    const entry = JSON.parse(text) as { filename: string; start: number; end: number };
    if (entry.filename.endsWith(`/${name}`)) return entry;
  }
  throw new Error(`The packed files hold no ${name}.`);
}
