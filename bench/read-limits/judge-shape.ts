import type { Limit } from '@apodix/core';

type Facts = Record<string, unknown>;

const KINDS = {
  video: 'video',
  sound: 'audio',
  photo: 'photo',
  document: 'pdf',
  text: 'text',
  link: 'link',
} as const;
const TOKENS: Readonly<Record<string, string>> = {
  surname: 'last',
  lastname: 'last',
  familyname: 'last',
  last: 'last',
  firstname: 'first',
  forename: 'first',
  givenname: 'first',
  first: 'first',
  firstinitial: 'firstInitial',
  initial: 'firstInitial',
  initials: 'initials',
  candidatenumber: 'candidate',
  candidateno: 'candidate',
  candidate: 'candidate',
  centrenumber: 'centre',
  centernumber: 'centre',
  centre: 'centre',
  studentnumber: 'student',
  studentid: 'student',
  piecetitle: 'piece',
  songtitle: 'piece',
  piece: 'piece',
  title: 'piece',
  class: 'class',
  classperiod: 'class',
  period: 'class',
  form: 'class',
  group: 'group',
  groupname: 'group',
  role: 'role',
  character: 'role',
  voice: 'voice',
  voicepart: 'voice',
  activity: 'activity',
  event: 'activity',
  sport: 'activity',
  instrument: 'instrument',
  number: 'number',
  date: 'date',
  take: 'take',
};

/** A name pattern with its tokens in braces, as the judge of readings writes it. */
export function writeJudgePattern(pattern: string): string {
  return pattern
    .replace(/\.[a-z0-9]{2,4}$/i, '')
    .replace(
      /(?:last|first|family|given|full|candidate|centre|center|student|piece|group|song) (?=[a-z]+)/gi,
      (word) => word.trim(),
    )
    .replace(/[\p{L}\p{N}]+/gu, (word) => {
      const token = TOKENS[word.toLowerCase()];
      if (token) return `{${token}}`;
      const humps = word.match(/\p{Lu}[^\p{Lu}]+/gu) ?? [];
      const pairs: string[] = [];
      for (let at = 0; at < humps.length; at += 1) {
        const two = TOKENS[`${humps[at] ?? ''}${humps[at + 1] ?? ''}`.toLowerCase()];
        const one = TOKENS[(humps[at] ?? '').toLowerCase()];
        if (two) at += 1;
        else if (!one) return word;
        pairs.push(`{${two ?? one ?? ''}}`);
      }
      return pairs.length > 0 && humps.join('') === word ? pairs.join('') : word;
    });
}

/** What was read, as facts in the shape that the judge of `../shared/reading` compares. */
export function writeJudgeShape(id: string, limits: readonly Limit[]): Facts {
  const facts = {
    slots: [] as Facts[],
    size: [] as Facts[],
    formats: [] as string[],
    notFormats: [] as string[],
  };
  const [duration, picture, sound]: [Facts, Facts, Facts] = [{}, {}, {}];
  const rest: Facts = {};
  for (const limit of limits) {
    if (limit.kind === 'count') facts.slots.push({ kind: KINDS[limit.item], min: limit.min, max: limit.max });
    else if (limit.kind === 'length') {
      const share = limit.isAbout && limit.minUs === limit.maxUs ? 0.1 : 0;
      if (limit.minUs !== null) duration['minSec'] = (limit.minUs / 1e6) * (1 - share);
      if (limit.maxUs !== null) duration['maxSec'] = (limit.maxUs / 1e6) * (1 + share);
      if (limit.isAbout) duration['approx'] = true;
    } else if (limit.kind === 'file-size') {
      const target = limit.appliesTo in KINDS ? { kind: KINDS[limit.appliesTo as keyof typeof KINDS] } : {};
      if (limit.maxBytes !== null) facts.size.push({ maxBytes: limit.maxBytes, per: 'file', ...target });
    } else if (limit.kind === 'total-size') facts.size.push({ maxBytes: limit.maxBytes, per: 'total' });
    else if (limit.kind === 'format') {
      facts.formats.push(...limit.wanted);
      facts.notFormats.push(...limit.refused);
    } else if (limit.kind === 'video-codec') rest['videoCodec'] = limit.wanted;
    else if (limit.kind === 'picture-edge') addEdge(picture, limit);
    else if (limit.kind === 'aspect') picture['aspect'] = `${limit.width}:${limit.height}`;
    else if (limit.kind === 'orientation') picture['orientation'] = limit.wanted;
    else if (limit.kind === 'frame-rate')
      picture['fps'] = [...new Set([limit.min, limit.max].filter((each) => each !== null))];
    else if (limit.kind === 'print-resolution') picture['dpi'] = limit.minDpi;
    else if (limit.kind === 'sound-present') sound['required'] = limit.isWanted;
    else if (limit.kind === 'channels') sound['channels'] = limit.wanted;
    else if (limit.kind === 'sample-rate') sound['sampleRate'] = limit.max ?? limit.min;
    else if (limit.kind === 'loudness')
      sound['lufs'] =
        limit.min !== null && limit.max !== null ? (limit.min + limit.max) / 2 : (limit.max ?? limit.min);
    else if (limit.kind === 'true-peak') sound['peakMaxDb'] = limit.maxDbtp;
    else if (limit.kind === 'one-take') rest['unbrokenTake'] = true;
    else if (limit.kind === 'file-name') rest['fileNamePattern'] = writeJudgePattern(limit.pattern);
    else if (limit.kind === 'participants') rest['creditsRequired'] = true;
    else if (limit.kind === 'note') rest['noteRequired'] = true;
    else if (limit.kind === 'own-work') rest['ownWork'] = true;
    else if (limit.kind === 'due') rest['due'] = limit.hasTime ? limit.at : limit.at.slice(0, 10);
    else if (limit.kind === 'attempts') rest['attempts'] = limit.max;
    else if (limit.kind === 'points') rest['points'] = limit.points;
  }
  return { id, ...facts, duration, picture, sound, ...rest };
}

function addEdge(picture: Facts, limit: Extract<Limit, { kind: 'picture-edge' }>): void {
  const { edge, min, max } = limit;
  const [low, high] = edge === 'long' ? ['longEdgeMin', 'longEdgeMax'] : ['minHeight', 'maxHeight'];
  if (edge === 'width') picture['width'] = max ?? min;
  else if (edge === 'height' && min !== null && min === max) picture['height'] = max;
  else {
    if (min !== null) picture[low] = min;
    if (max !== null) picture[high] = max;
  }
}
