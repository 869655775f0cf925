import type { Evidence } from '../series/evidence.ts';
import type { FrameTimes } from '../time/frame-times.ts';
import type { MovementCourse } from './find-movement.ts';
import type { TakeCourse } from './suggest-performance.ts';

const FULL_SCALE = 32_768;
/** Movement is looked at at even steps, whatever the rate of the pictures. */
const STEP_US = 100_000;

/** What the evidence of a take says along its time, for suggesting its start and finish. */
export function readCourse(evidence: Evidence, frames: FrameTimes | null, durationUs: number): TakeCourse {
  const { sound } = evidence;
  return {
    durationUs,
    sound:
      sound && sound.course.length > 0 ? Float32Array.from(sound.course, (each) => each / FULL_SCALE) : null,
    movement: frames && readMovement(evidence, frames),
  };
}

function readMovement({ signatures }: Evidence, frames: FrameTimes): MovementCourse | null {
  if (!signatures || signatures.frameCount < 10) return null;
  const size = signatures.widthPx * signatures.heightPx;
  const steps = Math.max(1, Math.floor(frames.endUs / STEP_US));
  // The picture that is shown at each step, held against that of the step before.
  const shown: number[] = [];
  let frame = 0;
  for (let step = 0; step <= steps; step += 1) {
    while (frame + 1 < signatures.frameCount && (frames.timesUs[frame + 1] ?? Infinity) <= step * STEP_US)
      frame += 1;
    shown.push(frame);
  }
  const change = Float32Array.from({ length: steps }, (_, step) => {
    const [before, after] = [(shown[step] ?? 0) * size, (shown[step + 1] ?? 0) * size];
    let sum = 0;
    for (let point = 0; point < size; point += 1)
      sum += Math.abs((signatures.luma[after + point] ?? 0) - (signatures.luma[before + point] ?? 0));
    return sum / size;
  });
  return { stepUs: STEP_US, change };
}
