import { parseWantedPattern } from '../naming/pattern.ts';
import { containerTable, type ContainerId } from '../media/containers.ts';
import { joinWanted } from './ceilings.ts';
import { byMachine, neverRefuses, type LimitRow, type Situation } from './row.ts';
import type { Subject } from './subject.ts';
import { joinWords, listContainers, writeCodec } from './words.ts';
import type { LimitOf, OtherFormat } from './limit.ts';

/** Containers that can be made of each kind, the usual ones first. */
export const MADE_CONTAINERS: Readonly<Record<Situation['kind'], readonly ContainerId[]>> = {
  video: ['mp4', 'mov', 'webm'],
  sound: ['m4a', 'mp3', 'wav', 'flac', 'ogg'],
  photo: ['jpeg', 'png', 'webp', 'tiff', 'pdf'],
  document: ['pdf', 'jpeg', 'png', 'webp', 'tiff'],
};

function listMakeable({ kind, facts }: Situation): readonly ContainerId[] {
  const pages = facts.document?.pageCount ?? 1;
  const own = MADE_CONTAINERS[kind].filter((id) => pages === 1 || id === 'pdf');
  // Of a video its sound alone can be made too.
  return kind === 'video' && facts.sound ? [...own, ...MADE_CONTAINERS.sound] : own;
}

const isContainer = (id: ContainerId | OtherFormat): id is ContainerId => id in containerTable;

const listFormats = (ids: readonly (ContainerId | OtherFormat)[]) =>
  ids.map((id) => (isContainer(id) ? containerTable[id].label : id.toUpperCase())).join(' or ');

export const formatRow: LimitRow<'format'> = {
  kind: 'format',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'Format',
  wanted: (limit) =>
    [
      limit.wanted.length ? listContainers(limit.wanted) : '',
      limit.refused.length ? `not ${listFormats(limit.refused)}` : '',
    ]
      .filter(Boolean)
      .join(', ') || 'any',
  concerns: () => true,
  check: (limit, subject) => {
    const isWanted = limit.wanted.length === 0 || limit.wanted.includes(subject.container);
    const isMet = isWanted && !limit.refused.includes(subject.container);
    const { label } = containerTable[subject.container];
    return {
      state: isMet ? 'met' : 'short',
      figure: label,
      method: 'signature bytes of the file',
      reason: isMet ? 'the wanted kind of file' : `${label} is not what is wanted`,
    };
  },
  steer: (limit, ceilings) => ({
    ...ceilings,
    wantedContainers: joinWanted(ceilings.wantedContainers, limit.wanted),
    refusedContainers: [...ceilings.refusedContainers, ...limit.refused.filter(isContainer)],
  }),
  refuse: (limit, situation) => {
    const makeable = listMakeable(situation).filter((id) => !limit.refused.includes(id));
    if (makeable.some((id) => limit.wanted.length === 0 || limit.wanted.includes(id))) return null;
    const wanted = limit.wanted.map((id) => containerTable[id].label);
    const own = MADE_CONTAINERS[situation.kind].filter((id) => makeable.includes(id));
    const possible = own.map((id) => containerTable[id].label);
    const pages = situation.facts.document?.pageCount ?? 1;
    const what = wanted.join(' or ') || 'The wanted format';
    return {
      reason: 'format-not-made',
      wanted,
      possible,
      message:
        pages > 1
          ? `This document has ${pages} pages; ${what} holds one picture. ` +
            'Bring in the page that is wanted on its own.'
          : `${what} cannot be made from this take. Possible: ${possible.join(', ')}.`,
    };
  },
  fix: (limit) => byMachine(`Convert it to ${listContainers(limit.wanted.slice(0, 1)) || 'another format'}.`),
};

interface CodecList {
  readonly wanted: readonly string[];
  readonly refused: readonly string[];
}

function buildCodecRow<K extends 'video-codec' | 'sound-codec'>(
  kind: K,
  label: string,
  own: Pick<LimitRow<K>, 'concerns' | 'steer' | 'refuse'> & {
    readonly read: (subject: Subject) => string | null;
  },
): LimitRow<K> {
  const list = (limit: LimitOf<K>) => limit as unknown as CodecList;
  const { read, ...rest } = own;
  return {
    kind,
    scope: 'file',
    judgedBy: 'machine',
    label: () => label,
    wanted: (limit) => {
      const { wanted, refused } = list(limit);
      return [
        joinWords(wanted.map(writeCodec), 'or'),
        refused.length ? `not ${joinWords(refused.map(writeCodec), 'or')}` : '',
      ]
        .filter(Boolean)
        .join(', ');
    },
    check: (limit, subject) => {
      const method = 'stream header';
      const codec = read(subject);
      if (codec === null) return { state: 'unknown', figure: null, method, reason: 'no such stream' };
      const { wanted, refused } = list(limit);
      const isMet = (wanted.length === 0 || wanted.includes(codec)) && !refused.includes(codec);
      const name = writeCodec(codec);
      return {
        state: isMet ? 'met' : 'short',
        figure: name,
        method,
        reason: isMet ? 'the wanted coding' : `${name} is not what is wanted`,
      };
    },
    fix: () => byMachine('Encode it again.'),
    ...rest,
  };
}

export const videoCodecRow = buildCodecRow('video-codec', 'Picture coding', {
  read: (subject) => subject.videoCodec,
  concerns: (subject) => subject.mediaKind === 'video',
  steer: (limit, ceilings) => ({
    ...ceilings,
    wantedVideoCodecs: joinWanted(ceilings.wantedVideoCodecs, limit.wanted),
    refusedVideoCodecs: [...ceilings.refusedVideoCodecs, ...limit.refused],
  }),
  // Which coding goes with which container is decided with both at hand, when the container is chosen.
  refuse: neverRefuses,
});

export const soundCodecRow = buildCodecRow('sound-codec', 'Sound coding', {
  read: (subject) => subject.soundCodec,
  concerns: (subject) => subject.hasSound && (subject.mediaKind === 'video' || subject.mediaKind === 'sound'),
  steer: (limit, ceilings) => ({
    ...ceilings,
    wantedSoundCodecs: joinWanted(ceilings.wantedSoundCodecs, limit.wanted),
    refusedSoundCodecs: [...ceilings.refusedSoundCodecs, ...limit.refused],
  }),
  refuse: neverRefuses,
});

export const fileNameRow: LimitRow<'file-name'> = {
  kind: 'file-name',
  scope: 'file',
  judgedBy: 'machine',
  label: () => 'File name',
  wanted: (limit) => limit.pattern,
  concerns: () => true,
  check: (limit, subject) => checkName(limit.pattern, subject),
  steer: (limit, ceilings) => ({ ...ceilings, namePattern: ceilings.namePattern ?? limit.pattern }),
  refuse: neverRefuses,
  fix: (_limit, subject) =>
    subject.wantedName === null
      ? { by: 'person', text: 'Rename it in Hand in: it holds a part that only you know.' }
      : byMachine('Name it by the pattern.'),
};

function checkName(pattern: string, subject: Subject): ReturnType<LimitRow<'file-name'>['check']> {
  const method = 'name of the file, compared with the pattern';
  if (subject.fileName === null) return { state: 'unknown', figure: null, method, reason: 'not named yet' };
  const stem = subject.fileName.replace(/\.[^.]*$/, '');
  // What the name should be is known only in part: whether it has the form, a person knows whether it is
  // right.
  if (subject.wantedName === null && subject.stage === 'planned')
    return {
      state: 'person',
      figure: subject.fileName,
      method,
      reason: 'only you know all parts of the name',
    };
  const isMet =
    subject.wantedName === null
      ? parseWantedPattern(pattern).matches(stem)
      : stem.normalize('NFC') === subject.wantedName.normalize('NFC');
  return {
    state: isMet ? 'met' : 'short',
    figure: subject.fileName,
    method,
    reason: isMet ? 'named as wanted' : 'not named as wanted',
  };
}
