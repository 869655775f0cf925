import {
  evenPicture,
  mapGains,
  seeLight,
  type EvenLight,
  type RgbPicture,
  type SeenLight,
} from '@apodix/core';

/** A photograph, how its lamp is evened out, and where its piece lies. */
export interface LightRequest {
  readonly id: number;
  readonly picture: RgbPicture;
  readonly light: EvenLight;
  readonly corners: EvenLight['corners'];
}
export interface LightAnswer {
  readonly id: number;
  /** What is told of the light after that; null where nothing tells. */
  readonly left: SeenLight | null;
}

/** Looks at the light of an evened photograph as at that of any other. */
self.onmessage = ({ data }: MessageEvent<LightRequest>) => {
  const { id, picture, light, corners } = data;
  const bytes = evenPicture(picture.bytes, picture, mapGains(light), picture.bands);
  const answer: LightAnswer = { id, left: seeLight({ ...picture, bytes }, corners) };
  (self as unknown as Worker).postMessage(answer);
};
