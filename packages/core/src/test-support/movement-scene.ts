/** What moves along a made-up take of physical education, and when the exercise itself does. */
export interface MovementScene {
  readonly stepUs: number;
  readonly change: Float32Array;
  readonly onsetS: number;
  readonly decayS: number;
}

const STEP_US = 100_000;

/**
 * Somebody walks to the place, stands, does an exercise with short lulls, stands, and walks to the camera to
 * stop it; the camera's own noise all along. Reproducible by its seed.
 */
export function buildMovementScene(seed: number): MovementScene {
  let state = (seed * 2_654_435_761) >>> 0;
  const random = () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 4_294_967_296;
  };
  const between = (low: number, high: number) => low + random() * (high - low);
  const noise = between(0.15, 0.6);
  const strength = between(2.5, 9);
  const change: number[] = [];
  const add = (seconds: number, level: () => number) => {
    const steps = Math.max(1, Math.round((seconds * 1e6) / STEP_US));
    for (let step = 0; step < steps; step += 1)
      change.push(Math.max(0.02, noise * between(0.85, 1.15) + level()));
  };
  const still = () => 0;
  add(between(0.5, 2), still);
  add(between(1, 3), () => strength * between(0.25, 0.6));
  add(between(1.6, 4), still);
  const onset = change.length;
  const exercises = 3 + Math.floor(random() * 5);
  for (let exercise = 0; exercise < exercises; exercise += 1) {
    if (exercise > 0) add(between(0.2, 0.9), () => strength * between(0, 0.05));
    add(between(1.5, 5), () => strength * between(0.5, 1.2));
  }
  const decay = change.length;
  add(between(1.6, 4), still);
  add(between(1, 2.5), () => strength * between(0.3, 0.7));
  add(between(0.3, 1), still);
  return {
    stepUs: STEP_US,
    change: Float32Array.from(change),
    onsetS: (onset * STEP_US) / 1e6,
    decayS: (decay * STEP_US) / 1e6,
  };
}
