import type { Answers } from '@apodix/core';

/** Answers with one question answered, or open again. */
export function chooseAnswer(answers: Answers, id: string, answer: 0 | 1 | null): Answers {
  const others = Object.fromEntries(Object.entries(answers).filter(([key]) => key !== id));
  return answer === null ? others : { ...others, [id]: answer };
}
