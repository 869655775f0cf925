import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseWantedPattern, type NameContext } from './pattern.ts';
import { buildSafeFileName, cleanDisplayName } from './safe-name.ts';

const ineke: NameContext = {
  surname: 'Varga',
  firstName: 'Ineke',
  piece: 'Marimba solo',
  course: 'Solo performance',
  candidateNumber: '4107',
};

describe('name patterns', () => {
  it.each([
    ['Surname_Firstname_Piece', 'Varga_Ineke_MarimbaSolo'],
    ['candidate number - title', '4107 - MarimbaSolo'],
    ['SurnameFirstname', 'VargaIneke'],
    ['Surname_Firstname_Piece.mp4', 'Varga_Ineke_MarimbaSolo'],
    ['2026_Surname', '2026_Varga'],
    ['Name_Title', 'InekeVarga_MarimbaSolo'],
    ['initials-title', 'IV-MarimbaSolo'],
  ])('%s for Ineke is %s', (pattern, name) => expect(parseWantedPattern(pattern).fill(ineke)).toBe(name));

  it('cannot be filled where a part is not known', () =>
    expect(
      parseWantedPattern('candidate number_title').fill({ ...ineke, candidateNumber: null }),
    ).toBeNull());

  it.each(['Surname_Date', 'class_surname_task', 'CentreNumber_CandidateNumber'])(
    '%s has a part that only the person knows',
    (pattern) => expect(parseWantedPattern(pattern).fill(ineke)).toBeNull(),
  );

  it('tells names of the right shape from others', () => {
    const pattern = parseWantedPattern('Surname_Firstname_Piece');
    expect([
      pattern.matches('Oyelaran_Temi_Linocut'),
      pattern.matches('video1'),
      pattern.matches('A_B'),
    ]).toEqual([true, false, false]);
  });
});

describe('buildSafeFileName', () => {
  it.each([
    ['../../etc/passwd', 'mp4', 'etc_passwd.mp4'],
    ['-rf', 'mp4', 'rf.mp4'],
    ['CON', 'mp4', '_CON.mp4'],
    ['com1.tar', 'jpg', '_com1.tar.jpg'],
    ['', 'mp4', 'file.mp4'],
    ['...', 'mp4', 'file.mp4'],
    ['a\u202egpj.exe', 'jpg', 'agpj.exe.jpg'],
    ['ein "Satz"', 'mp4', 'ein _Satz_.mp4'],
    ['🎻 solo', 'mp4', '🎻 solo.mp4'],
    ['.hidden', 'mp4', 'hidden.mp4'],
    ['tail. ', 'mp4', 'tail.mp4'],
  ])('%j becomes %j + %s', (raw, ending, name) => expect(buildSafeFileName(raw, ending)).toBe(name));

  it('is always a plain name of at most 255 bytes', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (raw) => {
        const name = buildSafeFileName(raw, 'mp4');
        expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(255);
        expect(name).toMatch(/^[^/\\:*?"<>|\p{Cc}]+\.mp4$/u);
        expect(name.startsWith('.') || name.startsWith('-')).toBe(false);
      }),
    );
  });

  it('does not cut inside an emoji', () => {
    const name = buildSafeFileName('👩‍🎤'.repeat(60), 'mp4');
    expect(
      [...new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(name.slice(0, -4))].every(
        ({ segment }) => segment === '👩‍🎤',
      ),
    ).toBe(true);
  });
});

it('a long name is cut in the middle and shows no direction marks', () => {
  expect(cleanDisplayName(`a\u202e${'b'.repeat(200)}z`, 21)).toBe(`a${'b'.repeat(9)}…${'b'.repeat(9)}z`);
});
