/** Seconds of sound or movement after which somebody who is not recording is told so. */
const AFTER_S = 4;
const PLAYING_DB = -32;
const MOVING = 3.2;

/**
 * Notices that somebody performs while nothing records: sound or movement in most of the last seconds. Quiet
 * talk and setting up leave it calm.
 */
export class IdleWatch {
  readonly #looks: { at: number; isActive: boolean }[] = [];

  /**
   * @param at Seconds.
   * @param levelDb Of the sound; null without a microphone.
   * @param movement Mean difference to the last look, 0 to 255; null without a picture.
   */
  add(at: number, levelDb: number | null, movement: number | null): boolean {
    const isActive = (levelDb ?? -100) > PLAYING_DB || (movement ?? 0) > MOVING;
    this.#looks.push({ at, isActive });
    while ((this.#looks[0]?.at ?? at) < at - AFTER_S) this.#looks.shift();
    const span = at - (this.#looks[0]?.at ?? at);
    const active = this.#looks.filter((look) => look.isActive).length / this.#looks.length;
    return span > AFTER_S * 0.8 && active > 0.7;
  }

  reset(): void {
    this.#looks.length = 0;
  }
}

/** Whether a performance has begun: something clearly louder, or clearly more moving, than just before. */
export class StartWatch {
  #calmDb: number | null = null;
  #calmMovement: number | null = null;
  #looks = 0;

  add(levelDb: number | null, movement: number | null): boolean {
    this.#looks += 1;
    const isLouder = levelDb !== null && this.#calmDb !== null && levelDb > Math.max(-45, this.#calmDb + 12);
    const isMoving =
      movement !== null && this.#calmMovement !== null && movement > Math.max(4, this.#calmMovement * 3);
    // The first looks tell what calm is like here.
    if (this.#looks > 6 && (isLouder || isMoving)) return true;
    if (levelDb !== null) this.#calmDb = mix(this.#calmDb, levelDb);
    if (movement !== null) this.#calmMovement = mix(this.#calmMovement, movement);
    return false;
  }
}

const mix = (before: number | null, now: number) => (before === null ? now : before * 0.85 + now * 0.15);
