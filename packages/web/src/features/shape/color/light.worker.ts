import {
  evenPicture,
  mapGains,
  seeLight,
  seeLightLeft,
  type EvenLight,
  type RgbPicture,
  type Ringed,
  type SeenLight,
} from '@apodix/core';

/** A photograph, how its lamp is evened out, and what told of it; null where nothing in it did. */
export interface LightRequest {
  readonly id: number;
  readonly picture: RgbPicture;
  readonly light: EvenLight;
  readonly by: Ringed | null;
}
export interface LightAnswer {
  readonly id: number;
  /** What is told of the light after that; null where nothing tells. */
  readonly left: SeenLight | null;
}

/** Looks at the light of an evened photograph where it told of itself before, else as at any other's. */
self.onmessage = ({ data }: MessageEvent<LightRequest>) => {
  const { id, picture, light, by } = data;
  const bytes = evenPicture(picture.bytes, picture, mapGains(light), picture.bands);
  const evened = { ...picture, bytes };
  const left = by ? seeLightLeft(evened, light.corners, by) : seeLight(evened, light.corners);
  const answer: LightAnswer = { id, left };
  (self as unknown as Worker).postMessage(answer);
};
