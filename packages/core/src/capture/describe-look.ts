import { joinWords } from '../limits/words.ts';
import { namePart, type Part, type SeenState } from '../presence/look.ts';

/** What is in the picture now, in a sentence: "Your face and both hands are in the picture." */
export function describeLook(
  states: Readonly<Record<Part, SeenState>>,
  wanted: readonly Part[],
): { readonly text: string; readonly isGood: boolean } {
  const of = (state: SeenState) =>
    wanted.filter((part) => states[part] === state).map((part) => namePart(part));
  const [seen, missing, covered, unsure] = [of('y'), of('n'), of('c'), of('u')];
  const parts: string[] = [];
  if (missing.length > 0) parts.push(`Not in the picture: ${joinWords(missing, 'and')}.`);
  if (covered.length > 0) parts.push('Something covers your hands.');
  if (unsure.length > 0) parts.push(`Hard to tell: ${joinWords(unsure, 'and')}.`);
  if (parts.length === 0) {
    const isMany = seen.length > 1 || seen[0] === namePart('hands');
    parts.push(`${capitalize(joinWords(seen, 'and'))} ${isMany ? 'are' : 'is'} in the picture.`);
  }
  return { text: parts.join(' '), isGood: missing.length + covered.length + unsure.length === 0 };
}

const capitalize = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
