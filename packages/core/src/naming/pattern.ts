/** Who and what a file name is made of. */
export interface NameContext {
  readonly surname: string;
  readonly firstName: string;
  readonly piece: string;
  readonly course: string;
  readonly candidateNumber: string | null;
}

type Part = { readonly token: keyof typeof tokenWords } | { readonly literal: string };

/** Words of a pattern that stand for something, in lower case without spaces, hyphens and underscores. */
const tokenWords = {
  surname: ['surname', 'lastname', 'familyname'],
  firstName: ['firstname', 'forename', 'givenname'],
  fullName: ['fullname', 'name', 'yourname'],
  initials: ['initials'],
  piece: ['piece', 'title', 'work', 'piecetitle', 'worktitle', 'nameofpiece'],
  course: ['course', 'subject'],
  /** Parts that only the person knows; a name with one of them cannot be filled by itself. */
  unknown: [
    'class',
    'form',
    'tutorgroup',
    'date',
    'year',
    'yeargroup',
    'centrenumber',
    'centernumber',
    'assignment',
    'task',
    'unit',
  ],
  candidateNumber: ['candidatenumber', 'candidateno', 'number', 'studentnumber', 'id'],
} as const;

export interface WantedPattern {
  readonly parts: readonly Part[];
  /** The name for this person and piece without an ending; null where a part is not known. */
  fill(context: NameContext): string | null;
  /** Whether a name (without ending) has the shape of the pattern, whoever's it is. */
  matches(stem: string): boolean;
}

/**
 * Reads a name pattern as a teacher writes it: `Surname_Firstname_Piece`, `candidate number - title`.
 * Words of `tokenWords` stand for something; everything else stands for itself.
 */
export function parseWantedPattern(rawPattern: string): WantedPattern {
  const pattern = rawPattern.trim().replace(/\.[a-z0-9]{2,4}$/i, '');
  const parts: Part[] = [];
  for (const piece of splitPattern(pattern)) {
    const token = findToken(piece);
    parts.push(token ? { token } : { literal: piece });
  }
  const shape = new RegExp(
    `^${parts.map((part) => ('token' in part ? '[^_]+?' : escapeRegExp(part.literal))).join('')}$`,
    'u',
  );
  return {
    parts,
    fill: (context) => {
      const filled: string[] = [];
      for (const part of parts) {
        const value = 'token' in part ? readToken(part.token, context) : part.literal;
        if (value === null || value === '') return null;
        filled.push('token' in part ? cleanNamePart(value) : value);
      }
      return filled.join('');
    },
    matches: (stem) => shape.test(stem),
  };
}

function readToken(token: keyof typeof tokenWords, context: NameContext): string | null {
  if (token === 'unknown') return null;
  if (token === 'fullName') return [context.firstName, context.surname].filter(Boolean).join(' ') || null;
  if (token === 'initials') return `${context.firstName.charAt(0)}${context.surname.charAt(0)}` || null;
  return context[token];
}

/** Words and the separators between them; two-word tokens ("candidate number") stay together. */
function splitPattern(pattern: string): string[] {
  const words = pattern.match(/[\p{L}\p{N}]+|[^\p{L}\p{N}]+/gu) ?? [];
  const joined: string[] = [];
  for (let index = 0; index < words.length; index += 1) {
    const pair = `${words[index]}${words[index + 1] ?? ''}${words[index + 2] ?? ''}`;
    if (words[index + 2] !== undefined && words[index + 1] === ' ' && findToken(pair)) {
      joined.push(pair);
      index += 2;
    } else joined.push(...splitCamel(words[index] ?? ''));
  }
  return joined;
}

/** `SurnameFirstnamePiece` becomes three words where all of them are tokens. */
function splitCamel(word: string): string[] {
  if (findToken(word)) return [word];
  const humps = word.match(/\p{Lu}?[^\p{Lu}]+|\p{Lu}+/gu) ?? [word];
  return humps.length > 1 && humps.every(findToken) ? humps : [word];
}

function findToken(word: string): keyof typeof tokenWords | null {
  const key = word.toLowerCase().replace(/[\s_-]/g, '');
  for (const [token, words] of Object.entries(tokenWords)) {
    if ((words as readonly string[]).includes(key)) return token as keyof typeof tokenWords;
  }
  return null;
}

/** `The Salt Ledger` → `TheSaltLedger`; letters of every script stay, separators and signs go. */
function cleanNamePart(value: string): string {
  return value
    .normalize('NFC')
    .split(/[^\p{L}\p{N}\p{M}-]+/u)
    .filter(Boolean)
    .map((word) => word.charAt(0).toUpperCase() + word.slice(1))
    .join('');
}

function escapeRegExp(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}
