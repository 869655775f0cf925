import type { Person } from '@apodix/core';
import type { PersonRow } from '../data/models.ts';

export function viewPerson(row: PersonRow): Person {
  const { id, displayName, firstName, surname, candidateNumber, role } = row;
  return { id, displayName, firstName, surname, candidateNumber, role };
}
