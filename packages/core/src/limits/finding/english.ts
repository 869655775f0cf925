import type { Language, Unit } from './language.ts';

const duration = (seconds: number): Unit => ({ dimension: 'duration', factor: seconds * 1e6 });
const bytes = (factor: number, isBinary = false): Unit => ({ dimension: 'bytes', factor, ...(isBinary ? { isBinary } : {}) });
const other: Unit = { dimension: 'other', factor: 1 };
const spread = <T>(value: T, words: string): Record<string, T> => Object.fromEntries(words.split(' ').map((word) => [word, value]));

/** English words and units of the reader of instructions. */
export const english: Language = {
  numbers: { zero: 0, one: 1, two: 2, three: 3, four: 4, five: 5, six: 6, seven: 7, eight: 8, nine: 9, ten: 10, eleven: 11, twelve: 12, thirteen: 13, fourteen: 14, fifteen: 15, sixteen: 16, seventeen: 17, eighteen: 18, nineteen: 19, single: 1 },
  tens: { twenty: 20, thirty: 30, forty: 40, fourty: 40, fifty: 50, sixty: 60, seventy: 70, eighty: 80, ninety: 90 },
  hundred: ['hundred', 'hundreds'],
  thousand: ['thousand'],
  articles: ['a', 'an'],
  groups: { dozen: 12, couple: 2, pair: 2 },
  half: ['half'],
  quarter: ['quarter', 'quarters'],
  and: 'and',
  of: 'of',
  units: {
    ...spread(duration(1), 's sec secs second seconds'),
    ...spread(duration(60), 'min mins minute minutes'),
    ...spread(duration(3600), 'h hr hrs hour hours'),
    ...spread(bytes(1e3), 'kb kbs kilobyte kilobytes kbyte kbytes'),
    ...spread(bytes(1e6), 'mb mbs meg megs megabyte megabytes mbyte mbytes'),
    ...spread(bytes(1e9), 'gb gbs gig gigs gigabyte gigabytes gbyte gbytes'),
    ...spread(bytes(1024, true), 'kib kibibyte kibibytes'),
    ...spread(bytes(1024 ** 2, true), 'mib mebibyte mebibytes'),
    ...spread(bytes(1024 ** 3, true), 'gib gibibyte gibibytes'),
    ...spread<Unit>({ dimension: 'px', factor: 1 }, 'px pixel pixels'),
    ...spread<Unit>({ dimension: 'fps', factor: 1 }, 'fps'),
    hz: { dimension: 'hz', factor: 1 },
    khz: { dimension: 'hz', factor: 1000 },
    ...spread<Unit>({ dimension: 'lufs', factor: 1 }, 'lufs lkfs'),
    ...spread<Unit>({ dimension: 'peak', factor: 1 }, 'dbtp dbfs db decibels'),
    ...spread<Unit>({ dimension: 'dpi', factor: 1 }, 'dpi ppi'),
    ...spread(other, 'kbps mbps kbit mbit % percent m metre metres meter meters cm mm km inch inches kg g gsm bpm mark marks point points pt pts page pages bar bars beat beats measure measures octave octaves people students pupils performers dancers players day days week weeks month months year years bit megapixel megapixels mp degrees words weeks lanes lane steps reps laps sets am pm'),
  },
  longUnits: [
    [/^(?:frames|pictures|images) (?:per|a|the|each|\/|every|in a) ?(?:second|sec|s)\b/, { dimension: 'fps', factor: 1 }],
    [/^db (?:true peak|tp)\b/, { dimension: 'peak', factor: 1 }],
    [/^(?:dots|pixels) per inch\b/, { dimension: 'dpi', factor: 1 }],
    [/^(?:kbit|mbit|kb|mb|kilobits|megabits) ?(?:\/ ?s\b|per second\b)/, other],
  ],
  formats: {
    mp4: 'mp4', mp4s: 'mp4', mpeg4: 'mp4', m4v: 'mp4', mov: 'mov', movs: 'mov', webm: 'webm', mkv: 'mkv', matroska: 'mkv', avi: 'avi', avis: 'avi', m4a: 'm4a', m4as: 'm4a', mp3: 'mp3', mp3s: 'mp3', wav: 'wav', wavs: 'wav', wave: 'wav', aiff: 'aiff', aif: 'aiff', flac: 'flac', flacs: 'flac', ogg: 'ogg',
    jpeg: 'jpeg', jpegs: 'jpeg', jpg: 'jpeg', jpgs: 'jpeg', png: 'png', pngs: 'png', heic: 'heic', heif: 'heic', avif: 'avif', webp: 'webp', tiff: 'tiff', tiffs: 'tiff', tif: 'tiff', gif: 'gif', gifs: 'gif', pdf: 'pdf', pdfs: 'pdf',
  },
  videoCodecs: { h264: 'h264', x264: 'h264', avc: 'h264', h265: 'hevc', x265: 'hevc', hevc: 'hevc', vp8: 'vp8', vp9: 'vp9', av1: 'av1', prores: 'prores' },
  soundCodecs: { aac: 'aac', opus: 'opus', vorbis: 'vorbis', pcm: 'pcm' },
  nouns: {
    ...spread('video' as const, 'video videos vid vids film films clip clips movie movies footage'),
    ...spread('sound' as const, 'audio soundfile'),
    ...spread('photo' as const, 'photo photos photograph photographs picture pictures pic pics image images scan scans snap snaps jpeg jpegs jpg jpgs png pngs'),
    ...spread('document' as const, 'document documents pdf pdfs'),
    ...spread('recording' as const, 'recording recordings performance performances'),
    ...spread('file' as const, 'file files upload uploads'),
  },
  abbreviations: ['max', 'min', 'approx', 'ca', 'op', 'no', 'nr', 'pp', 'p', 'vs', 'sec', 'secs', 'mins', 'mr', 'mrs', 'ms', 'dr', 'st', 'eg', 'ie', 'fig'],
  cueWords: [
    'maximum', 'minimum', 'between', 'longer', 'shorter', 'larger', 'smaller', 'bigger', 'under', 'below', 'exactly', 'approximately', 'roughly', 'around', 'least', 'length', 'duration', 'format', 'landscape', 'portrait', 'sideways', 'vertical', 'horizontal', 'upright', 'stereo', 'resolution', 'photograph', 'surname', 'firstname', 'deadline', 'submit', 'exceed', 'attempts', 'preferably', 'ideally', 'location', 'anything', 'nothing',
  ],
  shortSlips: { lenght: 'length', lengh: 'length', febuary: 'february', b4: 'before', dont: "don't", cant: "can't", wont: "won't", doesnt: "doesn't", dosnt: "doesn't", isnt: "isn't", arent: "aren't", shouldnt: "shouldn't", mustnt: "mustn't", didnt: "didn't", shud: 'should', plz: 'please', pls: 'please', ur: 'your', vid: 'video', vids: 'videos', undr: 'under', unter: 'under', mim: 'min', mins: 'mins', leest: 'least', vidio: 'video', ladscape: 'landscape' },
  realWords: ['lease', 'leash', 'beast', 'fifth', 'sixth', 'fourth', 'seventh', 'eighth', 'lengthy', 'large', 'lasts', 'sever', 'severe', 'thirst', 'seconds', 'moment', 'moments', 'elegant', 'blow', 'belong', 'minuet', 'minuets', 'landscapes', 'portraits', 'sound', 'sounds', 'seconded', 'vertically', 'horizontally', 'larder', 'linger', 'lounger', 'ledger', 'bidder', 'thunder', 'bigger', 'larges', 'formal', 'former', 'forma', 'summit', 'photography', 'photographer', 'photographed', 'lengths', 'formats', 'vocation', 'locations', 'minutely', 'tracks', 'trucks', 'documented', 'filmed', 'fills', 'clips', 'clubs', 'films', 'cloud', 'bellow', 'beloved', 'resolutions', 'around', 'ground', 'wonder', 'udder', 'units', 'pieces', 'stereos', 'formation', 'deadlines', 'submits', 'exceeds', 'excel', 'points', 'prints', 'print', 'point', 'paint', 'paints', 'joints', 'files', 'miles', 'smiles', 'fines', 'means', 'months', 'mouths', 'beats', 'bears', 'boats', 'pages', 'paper', 'wages', 'stages', 'images', 'degree', 'metered', 'inched', 'marked', 'market', 'markets', 'hours', 'house', 'years', 'yours', 'lines', 'laser', 'music', 'words', 'works', 'world', 'works', 'pixel', 'times', 'tiles', 'tides', 'people', 'peoples', 'steps', 'stops', 'picture', 'mixture', 'weeks', 'weeds', 'weds', 'seeks', 'dance', 'dances', 'video', 'scans', 'scant', 'scars', 'snaps', 'snags', 'tracked', 'trace', 'traces'],
};
