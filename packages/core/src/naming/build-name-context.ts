import type { NameContext } from './pattern.ts';

/** What of a person and an assignment file names are made of. */
export interface NameSource {
  readonly person: {
    readonly surname: string;
    readonly firstName: string;
    readonly candidateNumber: string | null;
    readonly role: string;
  };
  readonly title: string;
  /** Empty where the assignment belongs to no course. */
  readonly courseTitle: string;
}

/** Who and what file names are made of; null for a guest, who has no name. */
export function buildNameContext({ person, title, courseTitle }: NameSource): NameContext | null {
  if (person.role === 'guest') return null;
  return {
    surname: person.surname,
    firstName: person.firstName,
    piece: title.split(/[,:]/)[0] ?? title,
    course: courseTitle,
    candidateNumber: person.candidateNumber,
  };
}
