/** What a command answers, and how the program ends. */
export interface CommandEnd {
  readonly answer: unknown;
  readonly exitCode: 0 | 1 | 3 | 4 | 5;
}

/** Nothing falls short, but a person has to look or listen. */
export const LEFT_TO_PERSON = 5;
