import type { Recipe } from '@apodix/core';
import type { ToolGroup } from './tool-group.ts';

/**
 * Groups of settings that can go from one take to others; a cut, who is hidden, corners and how it shook stay
 * with their take.
 */
export type SharedGroup = Exclude<ToolGroup, 'cut' | 'check'>;

/** What of a frame is of its take alone. */
const pickOwn = ({ hidden, steady, flatten, light, color, about }: Recipe['picture']) => ({
  hidden,
  steady,
  flatten,
  light,
  color,
  about,
});

/** A recipe with a group of settings as another one has it; a separate recording stays with its take. */
export function copyGroup(from: Recipe, to: Recipe, group: SharedGroup): Recipe {
  const { color, ...framing } = from.picture;
  if (group === 'color') return { ...to, picture: { ...to.picture, color } };
  if (group === 'frame')
    return {
      ...to,
      picture: { ...framing, ...pickOwn(to.picture) },
    };
  if (group === 'about') return { ...to, picture: { ...to.picture, about: copyAbout(from, to) } };
  return { ...to, sound: from.sound };
}

/** Who made it and whose it is goes over; each piece keeps its own title. */
function copyAbout({ picture: { about } }: Recipe, to: Recipe): Recipe['picture']['about'] {
  if (!about) return null;
  const own = { ...about, title: to.picture.about?.title ?? '' };
  return Object.values(own).some((each) => each.trim() !== '') ? own : null;
}
