import { PeopleFile } from '@apodix/core';

/** Halden Weir Sixth Form College and its people. All of it is invented. */
export const COLLEGE = 'Halden Weir Sixth Form College';

export const people = PeopleFile.parse({
  people: [
    {
      id: 'ineke',
      displayName: 'Ineke Varga',
      firstName: 'Ineke',
      surname: 'Varga',
      candidateNumber: '4107',
      role: 'student',
    },
    {
      id: 'bruno',
      displayName: 'Bruno Aalders',
      firstName: 'Bruno',
      surname: 'Aalders',
      candidateNumber: '4112',
      role: 'student',
    },
    {
      id: 'temi',
      displayName: 'Temi Oyelaran',
      firstName: 'Temi',
      surname: 'Oyelaran',
      candidateNumber: '4125',
      role: 'student',
    },
    {
      id: 'rosalind',
      displayName: 'Rosalind Thackerby',
      firstName: 'Rosalind',
      surname: 'Thackerby',
      candidateNumber: null,
      role: 'teacher',
    },
    {
      id: 'idris',
      displayName: 'Idris Calloway',
      firstName: 'Idris',
      surname: 'Calloway',
      candidateNumber: null,
      role: 'teacher',
    },
    {
      id: 'marta',
      displayName: 'Marta Varga',
      firstName: 'Marta',
      surname: 'Varga',
      candidateNumber: null,
      role: 'family',
    },
  ],
  courses: [
    { id: 'solo', title: 'Solo performance', subject: 'music' },
    { id: 'print', title: 'Printmaking', subject: 'art' },
    { id: 'devised', title: 'Devised theatre', subject: 'drama' },
    { id: 'movement', title: 'Movement analysis', subject: 'PE' },
  ],
  enrolments: [
    ...['solo', 'print', 'devised', 'movement'].flatMap((courseId) => [
      {
        personId: 'ineke',
        courseId,
        role: 'student',
        group: courseId === 'movement' ? 'Thursday group' : null,
      },
      { personId: 'marta', courseId, role: 'family' },
      {
        personId: courseId === 'solo' || courseId === 'devised' ? 'rosalind' : 'idris',
        courseId,
        role: 'teacher',
      },
    ]),
    { personId: 'bruno', courseId: 'solo', role: 'student' },
    { personId: 'bruno', courseId: 'movement', role: 'student' },
    { personId: 'temi', courseId: 'print', role: 'student' },
    { personId: 'temi', courseId: 'devised', role: 'student' },
  ],
});
