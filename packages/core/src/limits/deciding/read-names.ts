/** Words of a file-name pattern in the form in which they are written into the pattern. */
const PARTS: readonly (readonly [RegExp, string])[] = [
  [/^(?:surname|last ?name|family ?name)/, 'Surname'],
  [/^(?:first ?name|forename|given ?name)/, 'FirstName'],
  [/^(?:full name)/, 'FullName'],
  [/^initials/, 'Initials'],
  [/^candidate (?:number|no\.?|nr)/, 'CandidateNumber'],
  [/^(?:exam|examination) number/, 'CandidateNumber'],
  [/^student (?:number|id|no\.?)/, 'StudentNumber'],
  [/^cent(?:re|er) (?:number|no\.?)/, 'CentreNumber'],
  [/^(?:name|title) of (?:the |your )?(?:piece|work|song|monologue|composition)/, 'Piece'],
  [/^(?:piece|work|song) (?:title|name)/, 'Piece'],
  [/^(?:piece|title)/, 'Title'],
  [/^(?:class|form|tutor group|set)(?: name)?/, 'Class'],
  [/^(?:course|subject|unit)(?: name| number| title)?/, 'Course'],
  [/^(?:assignment|task)(?: name| number| title)?/, 'Assignment'],
  [/^date/, 'Date'],
  [/^year(?: group)?/, 'Year'],
  [/^name/, 'Name'],
];
/** Single words that make a joined word a pattern rather than somebody's name. */
const TOKEN = /^(?:surname|last ?name|family ?name|firstname|first|forename|given|name|names|fullname|initials|candidate|candidatenumber|number|no|student|studentnumber|centre|centrenumber|title|piece|piecetitle|class|form|course|subject|unit|date|year|task|assignment|id|yourname|your|last|family)$/;
const CUE = /\b(?:(?:name|call|title|label|save|rename|labelled|named|titled|called|saved)\b(?: (?:it|them|this|that|each|every|the|your|all|of|file|files|work|video|recording|photo|photos|photograph|photographs|clip|upload|them all|one))*(?: (?:as|with|by|using|like this|after|to be|be|in the form|in this way|in the format))*(?: ?[:=])?|file ?names?(?: (?:should|must|has to|have to|needs to|is|are|be|format|to be|will|in the form|as))*(?: ?[:=])?|naming(?: convention| scheme| format)?(?: is)?(?: ?[:=])?)/g;
const SEPARATOR = /^(?:\s*,?\s*(?:(?:and |then |followed by |with )*(?:an? )?)?(underscore|dash|hyphen|space|_|-)\s*(?:and |then |followed by )*(?:the |your )*|\s*(?:,? ?and then|,? ?then|,? ?followed by|,? ?and|,|\+|&|\/)\s*(?:then )?(?:the |your |a |with )*|\s+)/;
const SEPARATOR_SIGNS: Readonly<Record<string, string>> = { underscore: '_', _: '_', dash: '-', hyphen: '-', '-': '-', space: ' ' };

export interface NameMatch {
  readonly pattern: string;
  readonly start: number;
  readonly end: number;
}

/**
 * Name patterns: joined words (`Surname_Firstname_Piece`) as the teacher wrote them, and patterns in prose
 * ("your candidate number, then the title"), joined by underscores where no sign is said.
 */
export function readNames(text: string, cleaned: string): NameMatch[] {
  const found: NameMatch[] = [];
  const joined = /(?<![\p{L}\p{N}_/@.-])(?:(?:candidate|student|exam|centre|center|first|last|family|full|given) (?=[a-z]+_))?[\p{L}][\p{L}\p{N}]*(?:[_-][\p{L}\p{N}]+){1,7}(?:\.[a-z0-9]{3,4})?(?![\p{L}\p{N}_-])/gu;
  for (const match of cleaned.matchAll(joined)) {
    const bare = match[0].replace(/\.[a-z0-9]{3,4}$/, '');
    const words = bare.split(/[_-]/).map((word) => word.replace(/ /g, ''));
    const tokens = words.filter((word) => TOKEN.test(word)).length;
    const isAllTokens = tokens === words.length && words.length > 1;
    const hasUnderscore = bare.includes('_');
    const isCued = isNamed(cleaned, match.index);
    const isExample = /(?:e\.?g\.?|for example|for instance|such as|like|example)\s*:?,?\s*["'(]?$/.test(cleaned.slice(Math.max(0, match.index - 16), match.index));
    const isPattern = hasUnderscore ? tokens >= 2 || (tokens >= 1 && isCued) : (isAllTokens && words.some((word) => /name|title|number|piece|initials/.test(word)) && isCued) || (isCued && tokens >= 2);
    if (isPattern && !isExample) found.push({ pattern: text.slice(match.index, match.index + bare.length), start: match.index, end: match.index + bare.length });
  }
  for (const match of cleaned.matchAll(/(?<![\p{L}\p{N}_/@.-])[a-z]+(?:\.[a-z0-9]+){1,7}(?![\p{L}\p{N}_-])/gu)) {
    const words = match[0].split('.');
    const bare = /^(?:mp4|mov|jpe?g|png|pdf|wav|mp3|m4a)$/.test(words.at(-1) ?? '') ? words.slice(0, -1).join('.') : match[0];
    if (words.filter((word) => TOKEN.test(word)).length >= 2) found.push({ pattern: text.slice(match.index, match.index + bare.length), start: match.index, end: match.index + bare.length });
  }
  for (const cue of cleaned.matchAll(CUE)) {
    const from = cue.index + cue[0].length;
    const prose = readProsePattern(cleaned, from);
    if (prose && !found.some((each) => each.start <= prose.end && each.end > cue.index)) found.push({ pattern: prose.pattern, start: cue.index, end: prose.end });
  }
  return found;
}

function isNamed(cleaned: string, at: number): boolean {
  return /\b(?:name|named|names|rename|renamed|call|called|title|titled|label|labelled|save|saved|filename|file name|naming|as)\b[^.!?\n]{0,60}$/.test(cleaned.slice(Math.max(0, at - 80), at));
}

function readProsePattern(cleaned: string, from: number): { pattern: string; end: number } | null {
  let at = from + (/^\s*(?:with |as |by |using |both )?(?:your |the |a )*["'(]?/.exec(cleaned.slice(from, from + 40))?.[0].length ?? 0);
  const parts: string[] = [];
  const separators: string[] = [];
  let end = at;
  for (let count = 0; count < 8; count += 1) {
    const rest = cleaned.slice(at, at + 60);
    const part = PARTS.map(([pattern, token]) => ({ match: pattern.exec(rest), token })).find((each) => each.match && !/^[\p{L}\p{N}]/u.test(rest.slice(each.match[0].length)));
    if (!part?.match) break;
    parts.push(part.token);
    end = at + part.match[0].length;
    const separator = SEPARATOR.exec(cleaned.slice(end, end + 40));
    if (!separator || separator[0].includes('\n')) break;
    separators.push(SEPARATOR_SIGNS[separator[1] ?? ''] ?? '_');
    at = end + separator[0].length;
  }
  const isSingle = parts.length === 1 && /Number|FullName|Initials|^Name$|Surname/.test(parts[0] ?? '');
  if (parts.length < 2 && !isSingle) return null;
  return { pattern: parts.map((part, index) => (index === 0 ? part : `${separators[index - 1] ?? '_'}${part}`)).join(''), end };
}
