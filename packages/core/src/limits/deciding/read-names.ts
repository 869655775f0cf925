/** Words for a part of a file name, and how it is written into the pattern. */
const PARTS: readonly (readonly [string, string])[] = [
  [
    '(?:initial|first letter) of (?:your |the )?(?:first|given) ?name|first(?: ?name)? initial|first letter of (?:your )?forename',
    'FirstInitial',
  ],
  ['initials', 'Initials'],
  ['full ?name', 'FullName'],
  ['(?:candidate|exam(?:ination)?|index)[ -]?(?:numbers?|no\\.?|nr|id)|candidate', 'CandidateNumber'],
  ['(?:student|learner|school)[ -]?(?:numbers?|no\\.?|nr|id)|id number', 'StudentNumber'],
  ['cent(?:re|er)[ -]?(?:numbers?|no\\.?|nr|code)|cent(?:re|er)', 'CentreNumber'],
  ['surname|last ?-?name|family ?-?name', 'Surname'],
  ['first ?-?name|forename|given ?-?name|christian name', 'FirstName'],
  [
    'group (?:name|number|no\\.?|letter)|name of (?:your |the )?group|team(?: ?name)?|ensemble(?: name)?|group',
    'Group',
  ],
  [
    "(?:role|character|part)(?: ?name|s name)?|name of (?:your |the )?(?:role|character)|character's name",
    'Role',
  ],
  ['voice(?: ?part| type)?', 'Voice'],
  ['instrument(?: name)?|what (?:instrument )?you play|name of (?:your |the )?instrument', 'Instrument'],
  [
    '(?:activity|sport|event|exercise|skill|stroke|discipline|dance)(?: name)?|name of (?:your |the )?(?:activity|sport|event|exercise|skill|dance)',
    'Activity',
  ],
  [
    '(?:name|title) of (?:your |the )?(?:piece|work|song|monologue|composition|film|play|poem|artwork|painting|print|photo(?:graph)?|picture|track)',
    'Piece',
  ],
  [
    '(?:piece|work|song|film|play|poem|composition|track|scene|monologue|artwork)[ -]?(?:title|name)|piece|composition',
    'Piece',
  ],
  ['title', 'Title'],
  [
    'class(?: period| name| number| code| group)?|period(?: number)?|form(?: group)?|tutor group|section|block|homeroom|hour',
    'Class',
  ],
  [
    '(?:photo|shot|image|picture|file|clip|video|camera|recording|track|take|page|view|exercise|task|part|running|sequence) ?(?:number|no\\.?)|number of the (?:photo|shot|image|picture|file|clip|video|camera|recording|track|take)|number',
    'Number',
  ],
  ['course(?: name| code)?|subject|unit(?: name| number)?', 'Course'],
  ['assignment(?: name| number)?|task', 'Assignment'],
  ['date', 'Date'],
  ['year(?: group)?', 'Year'],
  ['name', 'Name'],
];
const PART_PATTERNS = PARTS.map(
  ([words, token]) => [new RegExp(`^(?:${words})(?![\\p{L}\\p{N}])`, 'u'), token] as const,
);
/** Single words that make a joined word a pattern rather than somebody's name. */
const TOKEN =
  /^(?:surname|last ?name|family ?name|firstname|first ?name|first|forename|given(?:name)?|name|names|fullname|initials?|firstinitial|candidate|candidatenumber|candidateno|number|num|no|nn|student|studentnumber|studentid|centre|center|centrenumber|title|piece|piecetitle|songtitle|class|classperiod|period|form|course|subject|unit|date|year|task|assignment|id|yourname|your|last|family|group|groupname|team|teamname|role|character|part|voice|voicepart|activity|sport|event|exercise|skill|instrument|take|song|dance)$/;
const CUE =
  /(?<![a-z])(?:(?:name|call|title|label|save|rename|re ?- ?name|number (?=(?:the|your|them|each) )|labell?ed|named|titled|called|saved|renamed|lable)(?: (?:it|them|em|this|that|each|every|the|your|all|of|one|both|files?|work|videos?|recordings?|photos?|photographs?|images?|pictures?|clips?|uploads?|submissions?|everything))*|file(?: ?- ?| )?names?|names? of (?:the|your|each|every) (?:files?|videos?|recordings?|photos?|clips?)|file (?:is )?(?:to be )?(?:named|called)|naming(?: convention| scheme| format| rule)?)(?![a-z])/g;
const FILL =
  /^(?:[ ,"'(:=>-]|→|(?:after you|follows|shall|should|must|has to|have to|needs to|will|is|are|be|to|as|with|by|using|like this|after|in the (?:form|format)|in this (?:way|order|format)|under|both|just|only|simply|starts?|begins?|starting|first(?! ?-?(?:name|initial|letter))|put|comes?|goes|reads?|made of|consists? of|contains?|of|and|then|another|second|as in|goes|plus|followed|next|the|your|a|an|own|format|pattern|files?|it|them|one|each|every|here|use|so|exactly)(?![\p{L}\p{N}]))+/u;
const SIGNS: Readonly<Record<string, string>> = {
  underscore: '_',
  underscores: '_',
  'underline sign': '_',
  dash: '-',
  hyphen: '-',
  minus: '-',
  space: ' ',
  dot: '.',
  'full stop': '.',
  plus: '+',
  _: '_',
};
const SIGN =
  /^(?:,? ?(?:and |then |with |followed by |separated by |joined by )*(?:an? |the |one )?)(underscores?|dash|hyphen|space|dot|full stop|minus|plus(?= sign))(?: (?:sign|character))?( in between| between(?: them| each)?)?(?![\p{L}\p{N}])/u;
const GLUED =
  /\b(?:smushed|squashed|run|joined|written|all) together\b|\bno (?:spaces?|gaps?)(?: or [a-z]+)?(?: between| in between)?\b|\bwithout (?:any )?spaces?\b|\bas one word\b/;
const BETWEEN =
  /\b(?:separated|joined|divided|linked|split) by (?:an? )?(underscores?|dash(?:es)?|hyphens?|spaces?|dots?|plus)\b|\bwith (?:an? )?(underscores?|hyphens?|dash(?:es)?) (?:in )?between\b|\b(underscores?|hyphens?|dashes|dots) (?:in )?between\b/;

/** Halves of a word that stand for the whole in a joined name: `role_last_first`. */
const WHOLE_WORDS: Readonly<Record<string, string>> = {
  last: 'LastName',
  first: 'FirstName',
  family: 'FamilyName',
  given: 'GivenName',
  centre: 'CentreNumber',
  center: 'CenterNumber',
  initial: 'FirstInitial',
};

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
  const joined = findJoined(text, cleaned);
  if (joined.length > 0) return joined;
  const found: NameMatch[] = [];
  for (const cue of cleaned.matchAll(CUE)) {
    const prose = readProse(text, cleaned, cue.index + cue[0].length);
    if (prose) found.push({ pattern: prose.pattern, start: cue.index, end: prose.end });
    if (prose || !/file|names?$/.test(cue[0])) continue;
    // "File names, once more: class, dot, surname", "group name first and song title second in the file
    // name".
    const lineStart =
      Math.max(cleaned.lastIndexOf('\n', cue.index), cleaned.lastIndexOf('. ', cue.index), -1) + 1;
    const colon = cleaned.slice(cue.index, cue.index + 160).indexOf(': ');
    for (const from of [lineStart, ...(colon > 0 ? [cue.index + colon + 1] : [])]) {
      const other = readProse(text, cleaned, from);
      const isApart = other !== null && (from > cue.index || other.end <= cue.index);
      if (other && isApart && other.pattern.split(/(?<=[a-z])(?=[A-Z])|[_. -]/).length > 2)
        found.push({ pattern: other.pattern, start: from, end: other.end });
    }
  }
  // Of several the one with most parts.
  const partsOf = ({ pattern }: NameMatch) => pattern.split(/(?<=[a-z])(?=[A-Z])|[_. -]/).length;
  return found.sort((left, right) => partsOf(right) - partsOf(left)).slice(0, 1);
}

const JOINED =
  /(?<![\p{L}\p{N}_/@.-])(?:(?:candidate|student|exam|centre|center|first|last|family|full|given) (?=[a-z]+_))?[\p{L}\p{N}]+(?:[_-][\p{L}\p{N}#]+){1,7}(?:\.[a-z0-9]{3,4})?(?![\p{L}\p{N}_-])/gu;
const DOTTED = /(?<![\p{L}\p{N}_/@.-])[\p{L}]+(?:\.[\p{L}\p{N}]+){1,7}(?![\p{L}\p{N}_-])/gu;
const ENDING = /\.(?:mp4|mov|m4v|jpe?g|png|pdf|wav|mp3|m4a|tiff?|flac|gif|webm|heic|ext)$/;

function findJoined(text: string, cleaned: string): NameMatch[] {
  const found: NameMatch[] = [];
  const add = (from: number, bare: string, signs: RegExp) => {
    const words = bare.split(signs).map((word) => word.replace(/ /g, ''));
    const tokens = words.filter((word) => TOKEN.test(word)).length;
    const hasSign = /[_.]/.test(bare);
    const around = cleaned.slice(Math.max(0, from - 80), from);
    const isCued =
      /\b(?:name[ds]?|rename[ds]?|call(?:ed)?|titled?|label(?:led|ed)?|save[ds]?|file ?names?|naming|as|number)\b[^!?\n]{0,60}$/.test(
        around,
      );
    const isExample =
      /(?:e\.?g\.?|for example|for instance|such as|like|example|ex\.?|so|\()\s*:?,?\s*["'(]?$/.test(
        around.slice(-16),
      );
    const isNumbered = /^\d{1,3}$/.test(words.at(-1) ?? '') && words.length > 1;
    const isSeries =
      isNumbered &&
      new RegExp(`${escape(words.slice(0, -1).join('_'))}[_-]\\d{1,3}`).test(
        cleaned.slice(from + bare.length).replace(/-/g, '_'),
      );
    const isPattern = hasSign
      ? tokens >= 2 || (tokens >= 1 && isCued) || (isSeries && isCued)
      : isCued &&
        (tokens === words.length || tokens >= 2) &&
        words.length > 1 &&
        words.some((word) => /name|title|number|piece|initial/.test(word));
    if (!isPattern || (isExample && tokens < 2)) return;
    const own = text
      .slice(from, from + bare.length)
      .replace(/\p{L}+(?!\p{L}| name| number)/giu, (word) => WHOLE_WORDS[word.toLowerCase()] ?? word);
    const pattern =
      isNumbered && (isSeries || tokens > 0)
        ? own.replace(/\d{1,3}$/, 'Number')
        : own.replace(/(?<=[_-])(?:#{1,3}|nn|xx|n|x)$/i, 'Number');
    found.push({ pattern, start: from, end: from + bare.length });
  };
  for (const match of cleaned.matchAll(JOINED)) add(match.index, match[0].replace(ENDING, ''), /[_-]/);
  if (found.length === 0)
    for (const match of cleaned.matchAll(DOTTED)) {
      const bare = match[0].replace(ENDING, '');
      if (bare.includes('.') && bare.split('.').filter((word) => TOKEN.test(word)).length >= 2)
        add(match.index, bare, /\./);
    }
  return found.slice(0, 1);
}

const escape = (words: string) => words.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** "your last name, a hyphen, and the word melody", read part by part until something else stands there. */
function readProse(text: string, cleaned: string, from: number): { pattern: string; end: number } | null {
  let at = from;
  let end = from;
  const parts: string[] = [];
  const signs: (string | null)[] = [];
  let sign: string | null = null;
  let isSignTold = false;
  let between: string | null = null;
  for (let step = 0; step < 30; step += 1) {
    const rest = cleaned.slice(at, at + 80);
    const told = SIGN.exec(rest);
    if (told && parts.length > 0) {
      sign = SIGNS[told[1] ?? ''] ?? '_';
      isSignTold = told[2] === undefined;
      if (told[2] !== undefined) between = sign;
      if (told[2] !== undefined) sign = null;
      at += told[0].length;
      continue;
    }
    const figures = parts.length > 0 ? /^\d+(?:,? ?(?:or|to|and|,) ?\d+)+/.exec(rest) : null;
    if (figures && parts.at(-1) === 'Number') {
      at += figures[0].length;
      continue;
    }
    if (figures) {
      signs.push(sign);
      parts.push('Number');
      [sign, isSignTold] = [null, false];
      at += figures[0].length;
      end = at;
      continue;
    }
    const quoted =
      /^["']([^"'\n]{1,40})["']|^\(?(?:the )?(?:word|words|letters|text|code|ending) ["']?([\p{L}\p{N}]+)["']?/u.exec(
        rest,
      );
    const part = quoted
      ? undefined
      : PART_PATTERNS.map(([pattern, token]) => ({ match: pattern.exec(rest), token })).find(
          (each) => each.match,
        );
    if (quoted || part?.match) {
      const length = (quoted ?? part?.match)?.[0].length ?? 0;
      const word = quoted ? (quoted[1] ?? quoted[2] ?? '') : '';
      const wordAt = at + rest.indexOf(word);
      const written = quoted ? text.slice(wordAt, wordAt + word.length) : (part?.token ?? '');
      if (parts.length > 0) signs.push(sign);
      parts.push(written);
      sign = null;
      isSignTold = false;
      at += length;
      end = at;
      continue;
    }
    const fill = FILL.exec(rest);
    if (fill && fill[0].length > 0) {
      at += fill[0].length;
      continue;
    }
    // A word of its own after a sign that was told, or with figures or capitals: it stands for itself.
    const literal = /^[\p{L}\p{N}]+/u.exec(rest)?.[0];
    const own = literal ? text.slice(at, at + literal.length) : '';
    if (
      literal &&
      (isSignTold ||
        /^(?=.*\d)[\p{L}\p{N}]+$/u.test(own) ||
        (/^\p{Lu}/u.test(own) &&
          parts.length + step > 0 &&
          /(?:starts?|begins?|with|then|and|word)[ "']*$/.test(cleaned.slice(Math.max(0, at - 12), at)))) &&
      !/^(?:nothing|no|not|the|each|all|every|mp4|mov|mp3|wav|pdf|jpe?g|png|m4a)$/.test(literal) &&
      !/^\d+$/.test(literal)
    ) {
      if (parts.length > 0) signs.push(sign);
      parts.push(own);
      sign = null;
      isSignTold = false;
      at += literal.length;
      end = at;
      continue;
    }
    break;
  }
  const line = cleaned.slice(from, end + 60).split(/[.!?\n]/)[0] ?? '';
  const joint = BETWEEN.exec(line);
  const common =
    between ??
    (joint
      ? (SIGNS[(joint[1] ?? joint[2] ?? joint[3] ?? '').replace(/(?:es|s)$/, '')] ?? '_')
      : GLUED.test(line)
        ? ''
        : '_');
  const isAlone =
    parts.length === 1 &&
    /^(?:CandidateNumber|StudentNumber|FullName|Initials|Surname|Role|Group|Name)$/.test(parts[0] ?? '') &&
    /\b(?:just|only|simply|nothing else|with|as|is|under|:)\b|:/.test(cleaned.slice(from, end + 20));
  const tokens = parts.filter((part) => PARTS.some(([, token]) => token === part)).length;
  if (!(parts.length >= 2 && tokens >= 1) && !isAlone) return null;
  return {
    pattern: parts
      .map((part, index) => (index === 0 ? part : `${signs[index - 1] ?? common}${part}`))
      .join(''),
    end,
  };
}
