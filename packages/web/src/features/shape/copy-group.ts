import type { Recipe } from '@apodix/core';
import type { ToolGroup } from './tool-group.ts';

/**
 * Groups of settings that can go from one take to others; a cut, who is hidden and how it shook belong to
 * their take.
 */
export type SharedGroup = Exclude<ToolGroup, 'cut'>;

/** A recipe with a group of settings as another one has it; a separate recording stays with its take. */
export function copyGroup(from: Recipe, to: Recipe, group: SharedGroup): Recipe {
  const { color, ...framing } = from.picture;
  if (group === 'color') return { ...to, picture: { ...to.picture, color } };
  if (group === 'frame')
    return {
      ...to,
      picture: { ...framing, hidden: to.picture.hidden, steady: to.picture.steady, color: to.picture.color },
    };
  return { ...to, sound: from.sound };
}
