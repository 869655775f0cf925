import { containerTable, ContainerId, formatDuration, type Limit, type LimitKind } from '@apodix/core';

/**
 * One field of a limit's form: how its value is written and read. `parse` gives undefined for what cannot be
 * read.
 */
export interface LimitField {
  readonly key: string;
  readonly label: string;
  readonly type: 'text' | 'choice' | 'list' | 'flag' | 'moment';
  readonly options?: readonly { readonly title: string; readonly value: string | number | boolean }[];
  readonly hint?: string;
  readonly isRequired?: boolean;
  write(value: unknown): string;
  parse(raw: string): unknown;
}

const number = (
  key: string,
  label: string,
  options: {
    factor?: number;
    isRequired?: boolean;
    hint?: string;
    isWhole?: boolean;
    isSigned?: boolean;
  } = {},
): LimitField => {
  const { factor = 1, isRequired = false, hint, isWhole = false, isSigned = false } = options;
  return {
    key,
    label,
    type: 'text',
    isRequired,
    ...(hint === undefined ? {} : { hint }),
    write: (value) => (typeof value === 'number' ? String(Number((value / factor).toFixed(4))) : ''),
    parse: (raw) => {
      const text = raw.trim().replace(',', '.').replace('−', '-');
      if (text === '') return isRequired ? undefined : null;
      const value = Number(text) * factor;
      if (!Number.isFinite(value) || (!isSigned && value < 0) || !/^-?\d+(?:\.\d+)?$/.test(text))
        return undefined;
      return isWhole || factor >= 1000 ? Math.floor(value + 1e-6) : value;
    },
  };
};
/** `1:30`, `90`, `90 s`, `2 min`. */
const time = (key: string, label: string): LimitField => ({
  key,
  label,
  type: 'text',
  hint: '1:30',
  write: (value) => (typeof value === 'number' ? formatDuration(value) : ''),
  parse: (raw) => {
    const text = raw.trim();
    if (text === '') return null;
    const clock = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2}(?:[.,]\d+)?)$/.exec(text);
    const plain = /^(\d+(?:[.,]\d+)?)\s*(s|sec|seconds?|min|minutes?|h|hours?)?$/.exec(text);
    const parse = (part: string | undefined) => Number((part ?? '0').replace(',', '.'));
    const seconds = clock
      ? parse(clock[1]) * 3600 + parse(clock[2]) * 60 + parse(clock[3])
      : plain
        ? parse(plain[1]) * (plain[2]?.startsWith('m') ? 60 : plain[2]?.startsWith('h') ? 3600 : 1)
        : Number.NaN;
    return Number.isFinite(seconds) && seconds >= 0 ? Math.round(seconds * 1e6) : undefined;
  },
});
const choice = (key: string, label: string, options: NonNullable<LimitField['options']>): LimitField => ({
  key,
  label,
  type: 'choice',
  options,
  write: String,
  parse: (raw) => options.find((option) => String(option.value) === raw)?.value,
});
const list = (key: string, label: string, options: NonNullable<LimitField['options']>): LimitField => ({
  key,
  label,
  type: 'list',
  options,
  write: (value) => (Array.isArray(value) ? value.join(',') : ''),
  parse: (raw) => raw.split(',').filter((each) => options.some((option) => option.value === each)),
});
const flag = (key: string, label: string): LimitField => ({
  key,
  label,
  type: 'flag',
  write: String,
  parse: (raw) => raw === 'true',
});

const formats = ContainerId.options.map((value) => ({ title: containerTable[value].label, value }));
const words = (...values: (readonly [string, string | number | boolean])[]) =>
  values.map(([title, value]) => ({ title, value }));

/** The form of every kind of limit, complete by type. Kinds without fields are either asked for or not. */
export const limitForms: {
  readonly [K in LimitKind]: {
    readonly title: string;
    readonly fields: readonly LimitField[];
    readonly start: Readonly<Record<string, unknown>>;
    readonly hasTarget?: boolean;
  };
} = {
  format: {
    title: 'Format',
    fields: [list('wanted', 'Wanted', formats), list('refused', 'Not wanted', formats)],
    start: { wanted: ['mp4'] },
    hasTarget: true,
  },
  'file-size': {
    title: 'File size',
    fields: [
      number('minBytes', 'At least, MB', { factor: 1e6 }),
      number('maxBytes', 'At most, MB', { factor: 1e6 }),
    ],
    start: { maxBytes: 100_000_000 },
    hasTarget: true,
  },
  'total-size': {
    title: 'Size of all files',
    fields: [number('maxBytes', 'At most, MB', { factor: 1e6, isRequired: true })],
    start: { maxBytes: 500_000_000 },
  },
  length: {
    title: 'Length',
    fields: [
      time('minUs', 'At least'),
      time('maxUs', 'At most'),
      flag('isAbout', 'about (a tenth either way)'),
    ],
    start: { maxUs: 120_000_000 },
    hasTarget: true,
  },
  'picture-edge': {
    title: 'Picture size',
    fields: [
      choice(
        'edge',
        'Which edge',
        words(
          ['lines (shorter edge of a video)', 'lines'],
          ['width', 'width'],
          ['height', 'height'],
          ['long edge', 'long'],
          ['short edge', 'short'],
        ),
      ),
      number('min', 'At least, px', { isWhole: true }),
      number('max', 'At most, px', { isWhole: true }),
    ],
    start: { edge: 'lines', max: 1080 },
    hasTarget: true,
  },
  orientation: {
    title: 'How it is held',
    fields: [
      choice(
        'wanted',
        'Held',
        words(['sideways', 'landscape'], ['upright', 'portrait'], ['square', 'square']),
      ),
    ],
    start: { wanted: 'landscape' },
    hasTarget: true,
  },
  aspect: {
    title: 'Proportions',
    fields: [
      number('width', 'Width', { isRequired: true }),
      number('height', 'to height', { isRequired: true }),
    ],
    start: { width: 16, height: 9 },
    hasTarget: true,
  },
  'frame-rate': {
    title: 'Pictures a second',
    fields: [number('min', 'At least'), number('max', 'At most')],
    start: { min: 25 },
  },
  'one-take': { title: 'One unbroken take', fields: [], start: {} },
  'sound-present': {
    title: 'Sound',
    fields: [choice('isWanted', 'Sound', words(['with sound', true], ['without sound', false]))],
    start: { isWanted: true },
  },
  channels: {
    title: 'Channels',
    fields: [choice('wanted', 'Channels', words(['mono', 1], ['stereo', 2]))],
    start: { wanted: 2 },
  },
  'sample-rate': {
    title: 'Sample rate',
    fields: [
      number('min', 'At least, kHz', { factor: 1000 }),
      number('max', 'At most, kHz', { factor: 1000 }),
    ],
    start: { min: 44_100 },
  },
  loudness: {
    title: 'Sound level',
    fields: [
      number('min', 'At least, LUFS', { isSigned: true, hint: '−20' }),
      number('max', 'At most, LUFS', { isSigned: true, hint: '−14' }),
    ],
    start: { min: -20, max: -14 },
  },
  'true-peak': {
    title: 'Highest peak',
    fields: [number('maxDbtp', 'At most, dBTP', { isSigned: true, isRequired: true })],
    start: { maxDbtp: -1 },
  },
  'no-clipping': { title: 'No clipping', fields: [], start: {} },
  'video-codec': {
    title: 'Picture coding',
    fields: [
      list('wanted', 'Wanted', words(['H.264', 'h264'], ['HEVC', 'hevc'], ['VP9', 'vp9'], ['AV1', 'av1'])),
    ],
    start: { wanted: ['h264'] },
  },
  'sound-codec': {
    title: 'Sound coding',
    fields: [
      list(
        'wanted',
        'Wanted',
        words(['AAC', 'aac'], ['Opus', 'opus'], ['MP3', 'mp3'], ['FLAC', 'flac'], ['PCM', 'pcm']),
      ),
    ],
    start: { wanted: ['aac'] },
  },
  'print-resolution': {
    title: 'Print resolution',
    fields: [
      number('minDpi', 'At least, dpi', { isRequired: true }),
      number('paperWidthMm', 'Paper width, mm', { isRequired: true }),
      number('paperHeightMm', 'Paper height, mm', { isRequired: true }),
    ],
    start: { minDpi: 300, paperWidthMm: 210, paperHeightMm: 297 },
  },
  'whole-piece': { title: 'Whole piece in view', fields: [], start: {} },
  sharp: { title: 'Sharp enough', fields: [], start: {} },
  'in-view': {
    title: 'In the picture',
    fields: [
      list('parts', 'What can be seen all the time', [
        { title: 'face', value: 'face' },
        { title: 'both hands', value: 'hands' },
        { title: 'the whole body', value: 'body' },
      ]),
    ],
    start: { severity: 'should', parts: ['face', 'hands'] },
  },
  different: { title: 'Different files', fields: [], start: {} },
  'file-name': {
    title: 'File name',
    fields: [
      {
        key: 'pattern',
        label: 'Pattern',
        type: 'text',
        isRequired: true,
        hint: 'Surname_Firstname_Piece',
        write: (value) => (typeof value === 'string' ? value : ''),
        parse: (raw) => (raw.trim() === '' || raw.length > 200 ? undefined : raw.trim()),
      },
    ],
    start: { pattern: 'Surname_Firstname_Piece' },
  },
  'location-removed': { title: 'Place removed', fields: [], start: {} },
  count: {
    title: 'How many',
    fields: [
      choice(
        'item',
        'Of what',
        words(
          ['videos', 'video'],
          ['photographs', 'photo'],
          ['sound recordings', 'sound'],
          ['documents', 'document'],
        ),
      ),
      number('min', 'At least', { isWhole: true, isRequired: true }),
      number('max', 'At most', { isWhole: true }),
    ],
    start: { item: 'video', min: 1, max: 1 },
  },
  participants: { title: 'Who took part', fields: [], start: {} },
  note: { title: 'Note to the teacher', fields: [], start: {} },
  'own-work': { title: 'Statement of own work', fields: [], start: {} },
  due: {
    title: 'Due',
    fields: [
      {
        key: 'at',
        label: 'Day and time',
        type: 'moment',
        isRequired: true,
        write: (value) => (typeof value === 'string' ? value : ''),
        parse: (raw) => (/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(raw) ? raw : undefined),
      },
    ],
    start: {},
  },
  late: {
    title: 'Late work',
    fields: [choice('isAllowed', 'Late work is', words(['taken', true], ['not taken', false]))],
    start: { isAllowed: false },
  },
  attempts: {
    title: 'Attempts',
    fields: [number('max', 'At most', { isWhole: true, isRequired: true })],
    start: { max: 1 },
  },
  points: {
    title: 'Points',
    fields: [number('points', 'Points', { isRequired: true })],
    start: { points: 20 },
  },
};

export const targets = words(
  ['every file', 'any'],
  ['videos', 'video'],
  ['photographs', 'photo'],
  ['sound', 'sound'],
  ['documents', 'document'],
);

export const limitKindOptions = (
  Object.entries(limitForms) as [LimitKind, (typeof limitForms)[LimitKind]][]
).map(([value, form]) => ({ value, title: form.title }));

/** What stands in the fields of a limit. */
export function writeFields(limit: Pick<Limit, 'kind'> & Record<string, unknown>): Record<string, string> {
  return Object.fromEntries(
    limitForms[limit.kind].fields.map((field) => [
      field.key,
      limit[field.key] === undefined || limit[field.key] === null ? '' : field.write(limit[field.key]),
    ]),
  );
}

/** Reads the fields back; `fault` says in plain words what is wrong. */
export function parseFields(
  kind: LimitKind,
  raw: Readonly<Record<string, string>>,
): { values: Record<string, unknown>; fault: string | null } {
  const values: Record<string, unknown> = {};
  for (const field of limitForms[kind].fields) {
    const value = field.parse(raw[field.key] ?? '');
    if (value === undefined)
      return {
        values,
        fault: `${field.label}: this cannot be read${field.hint ? `, it has to look like ${field.hint}` : ''}.`,
      };
    values[field.key] = value;
  }
  return { values, fault: null };
}
