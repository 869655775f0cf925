import { containerTable, type ContainerId } from '../../media/containers.ts';
import type { LimitTarget, OtherFormat, SoundCodecId, VideoCodecId } from '../limit.ts';
import type { TextContext } from './context.ts';
import type { Sentence } from '../finding/sentences.ts';

export interface FormatMention {
  readonly what:
    | { readonly type: 'format'; readonly id: ContainerId | OtherFormat }
    | { readonly type: 'video-codec'; readonly id: VideoCodecId }
    | { readonly type: 'sound-codec'; readonly id: SoundCodecId };
  readonly isWanted: boolean;
  readonly appliesTo: LimitTarget;
  readonly from: number;
  readonly to: number;
  /** Joined to the one before by "or": one choice. */
  readonly isJoined: boolean;
}

const REFUSED_BEFORE =
  /(?:unacceptable|not accept|not (?:acceptable|accepted|allowed)|forbidden|banned|excluded)(?: formats?)?(?: are)?(?: :)?(?: [a-z0-9]+ ,)* $|(?:^| )(?:no|not|never|avoid|without|except|[a-z]+n't|refuse|reject|anything but|cannot(?: open| read| play| use| accept| take)?)(?: (?:a|an|any|in|as|the|use|send|me|us|be|it|upload|accept|open|take|hand|submit|give|your|export|save|files?))*(?: #[A-Z]\d+#)? $/;
/** "No HEIC or MOV": the refusal carries over. */
const CARRIED = /^(?: files?)? (?:or|nor|and|\/|,)(?: (?:no|a|an|any))? $/;
const REFUSED_AFTER =
  /^(?: files?| format| videos?)? (?:is|are|will be|gets?|will get) (?:all |always |automatically )?(?:refused|rejected|sent back|returned|off|unacceptable|deleted|ignored|banned|out)\b|^(?: files?)? (?:shows? as|chokes?|crash(?:es)?|fails?)\b|^(?: files?)?(?: (?:is|are|not|be|never))* (?:not|never) (?:acceptable|accepted|allowed|welcome|wanted)\b|^(?: files?)? (?:(?:is|are|will|wo|can|does|do)(?: ?n't| not)|(?:is|are|will|can|does|do|wo)n't|cannot|can't|won't|isn't|aren't|doesn't|don't)(?: be)? (?:accepted|opened|open|ok|okay|work|allowed|fine|good|taken|readable|read|play)\b/;
const DROPPED_BEFORE =
  /\b(?:instead of|rather than|convert|change|turn|export|from|saves|records|makes|by default|used to be)(?: (?:a|an|the|your|any|it|them|in|as|to be))* $/;
const DROPPED_AFTER =
  /^(?: files?)? (?:(?:in)?to #|(?:in)?to (?:an? )?[a-z0-9]+\b|by default|backing|accompaniment|that i|which i|i (?:sent|posted|gave|uploaded)|on the (?:course|shared|school)|from the (?:course|shared|website))/;
const READ_NOT_MADE =
  /\b(?:score|script|worksheet|sheet|handout|parts?|form) (?:is|are|comes?) (?:a |an |in |as )*$|\b(?:backing track|accompaniment)(?: \()? $|\b(?:see|read|open|download|follow|print|check|listen to|watch|play along (?:with|to)|study|look at|attached|use the)\b(?![^.,;]{0,60}\b(?:hand in|upload|submit|send)\b)[^.,;]{0,40}$/;

const OTHERS: Readonly<Record<string, OtherFormat>> = {
  zip: 'zip',
  zips: 'zip',
  zipped: 'zip',
  rar: 'rar',
  doc: 'doc',
  docs: 'doc',
  docx: 'docx',
  odt: 'odt',
  rtf: 'rtf',
  txt: 'txt',
  pages: 'pages',
  ppt: 'ppt',
  pptx: 'pptx',
  psd: 'psd',
  psds: 'psd',
  ai: 'ai',
  raw: 'raw',
  wmv: 'wmv',
  flv: 'flv',
  '3gp': '3gp',
  mpg: 'mpg',
  wma: 'wma',
  amr: 'amr',
  svg: 'svg',
};

const OTHER_KINDS: Readonly<Record<OtherFormat, LimitTarget>> = {
  zip: 'any',
  rar: 'any',
  doc: 'document',
  docx: 'document',
  odt: 'document',
  rtf: 'document',
  txt: 'document',
  pages: 'document',
  ppt: 'document',
  pptx: 'document',
  key: 'document',
  psd: 'photo',
  ai: 'photo',
  raw: 'photo',
  svg: 'photo',
  wmv: 'video',
  flv: 'video',
  '3gp': 'video',
  mpg: 'video',
  wma: 'sound',
  amr: 'sound',
};

/** Every container and coding that a sentence names as wanted or refused. */
export function readFormats(sentence: Sentence, context: TextContext): FormatMention[] {
  const { formats, videoCodecs, soundCodecs } = context.language;
  const found: FormatMention[] = [];
  let lastEnd = -1;
  let wasRefused = false;
  sentence.items.forEach((item, index) => {
    if (item.kind !== 'word') return;
    const [from, to] = sentence.places[index] ?? [0, 0];
    const word = item.text.replace(/'s$/, '');
    const format = formats[word] ?? OTHERS[word];
    const video = videoCodecs[word];
    const sound = soundCodecs[word];
    const what: FormatMention['what'] | null = format
      ? { type: 'format', id: format }
      : video
        ? { type: 'video-codec', id: video }
        : sound
          ? { type: 'sound-codec', id: sound }
          : null;
    if (!what || (item.text === 'wave' && !/\bfiles?\b/.test(sentence.tag.slice(to, to + 7)))) return;
    const before = sentence.tag.slice(Math.max(0, from - 120), from);
    const after = sentence.tag.slice(to, to + 80);
    const isCarried = lastEnd >= 0 && CARRIED.test(sentence.tag.slice(lastEnd, from)) && wasRefused;
    const isRefused =
      (REFUSED_BEFORE.test(before.replace(/\. $/, '')) && !/\bnot only $/.test(before)) ||
      REFUSED_AFTER.test(after) ||
      isCarried;
    const isJoined =
      lastEnd >= 0 &&
      /^(?: files?)?(?: (?:preferred|preferably|ideally))?(?: \( [a-z]+ \))?(?: ,)? (?:or|\/|,)(?: (?:or|a|an|as))* $/.test(
        sentence.tag.slice(lastEnd, from),
      );
    lastEnd = to;
    wasRefused = isRefused;
    if (
      !isRefused &&
      ((DROPPED_BEFORE.test(before) && DROPPED_AFTER.test(after)) ||
        /\b(?:instead of|rather than|saves|records|used to be)(?: (?:a|an|the|your|any|it|them|in|as))* $/.test(
          before,
        ) ||
        /^(?: files?)? by default/.test(after) ||
        /^(?: files?)? (?:backing|accompaniment|(?:that |which )?i (?:sent|posted|gave|uploaded))/.test(
          after,
        ) ||
        READ_NOT_MADE.test(before))
    )
      return;
    // What no file here is made in can only be refused.
    const isOther = what.type === 'format' && !(what.id in containerTable);
    if (isOther && !isRefused) return;
    const kind = isOther
      ? OTHER_KINDS[what.id as OtherFormat]
      : what.type === 'format'
        ? containerTable[what.id as ContainerId].kind
        : what.type === 'video-codec'
          ? 'video'
          : 'any';
    found.push({ what, isWanted: !isRefused, appliesTo: kind, from, to, isJoined });
  });
  return found;
}
