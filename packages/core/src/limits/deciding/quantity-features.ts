import type { CueMark } from '../finding/cues.ts';
import type { Sentence } from '../finding/sentences.ts';
import type { Bounded } from './bounds.ts';

/** Classes of words that stand near a figure. Each is looked for before and after it, near and far. */
const CLASSES: readonly (readonly [string, RegExp])[] = [
  [
    'media',
    /\b(?:videos?|vids?|films?|clips?|recordings?|record(?:ed)?|footage|files?|uploads?|audio|tracks?|movies?|submissions?|photos?|images?|pictures?|jpe?gs?|pdfs?|mp[34]s?|wavs?|scans?|documents?|podcasts?|takes?)\b/,
  ],
  [
    'work',
    /\b(?:pieces?|performances?|monologues?|speech|song|routine|dance|solo|duet|scene|poem|reading|presentation|talk|study|exercise|sequence|demonstration|animation|trailer|commentary|etude|movement|interview|pitch|reflection|walkthrough|tour|drama)\b/,
  ],
  [
    'length',
    /\b(?:long|length|duration|durations?|lasts?|lasting|running time|run(?:s|ning)? time|run ?time|time limit|timing|runs?|running|longer|shorter|how long)\b/,
  ],
  [
    'size',
    /\b(?:size|file size|limit|cap|ceiling|heavy|big|bigger|large|larger|smaller|upload limit|combined|total|together|altogether|overall)\b/,
  ],
  [
    'train',
    /\b(?:warm(?:ing)? ?-? ?ups?|rehears\w*|practi[sc]\w*|rest(?:s|ing)?|stretch\w*|plank|balance|hold(?:s|ing)?|jog\w*|walk(?:s|ing)?|cycle|swim|sprint\w*|breath\w*|heat\w*|fire[ds]?|firing|bake|dry|soak|kiln|pulse|metronome|work ?out|exercise[sd]?|activity|reps?|sets?|laps?)\b/,
  ],
  [
    'school',
    /\b(?:lessons?|class(?:es)?|periods?|blocks?|meetings?|breaks?|sessions?|slots?|workshops?|lectures?|exams?|tests?|homework|concert|bus|walks?|drive|lunch|visit|trip|interval|evacuation|shift|booking|audience|tickets?|appointments?|queue|seminars?)\b/,
  ],
  [
    'part',
    /\b(?:first|last|opening|closing|final|every|after|before|gap|silence|pause|countdown|intro|introduction|slate|into|in the middle|at the (?:start|end|beginning)|black|freeze|bow|credits?|title)\b/,
  ],
  [
    'machine',
    /\b(?:phones?|cameras?|laptops?|storage|inbox|quota|memory|drive|card|wifi|wi ?fi|internet|network|server|battery|free space|space|template|app|download(?:s|ing)?|link expires|takes? up|process(?:es|ing)?|sync)\b/,
  ],
  [
    'takes',
    /\b(?:takes?|took|needs?|allow|spend|spent|wait|give yourself|leave|plan for|expect(?:s|ed)? to)\b/,
  ],
  [
    'music',
    /\b(?:backing|accompaniment|click|sample|copyright\w*|music|soundtrack|model|original|extract|excerpt|example|quote|clip of|borrowed|existing)\b/,
  ],
  [
    'told',
    /\b(?:was|were|had|showed|watched|saw|posted|last (?:year|week|term)|i (?:gave|made|posted|sent|played|shared)|we (?:watched|saw|listened))\b/,
  ],
  [
    'reject',
    /\b(?:reject\w*|refuse\w*|cut off|bounce[sd]?|not (?:be )?(?:accepted|watched|marked|graded)|stop watching|won't (?:be|upload|open)|compress|too (?:big|long|large))\b/,
  ],
];

/** Words of a class, as the source of a pattern. */
export const wordsOf = (name: 'media' | 'work'): string =>
  CLASSES.find(([each]) => each === name)?.[1].source ?? '';

/** What a body or a kiln does: "Run 400 m in under 80 seconds". */
const ACTIVITY =
  /^(?:[-*] |then |first |now )*(?:run|sprint|jog|walk|swim|stretch|heat|fire|bake|cool|dry|soak|jump|skip|plank|squat|breathe|rest|cycle|row|warm|practi[sc]e|rehearse|stand|sit|lie|balance|boil|mix|let|wait|hold|look|watch|set|spend|bring|allow|leave)\b/;

const NUMBER_BEFORE = /(?:^| )([a-z'-]+|[(:,=-]) ?$/;

/** What can be said of a figure by the words around it. */
export function describeQuantity(
  bounded: Bounded,
  sentence: Sentence,
  cues: readonly CueMark[],
  place: {
    readonly isNothingAsked: boolean;
    readonly count: number;
    readonly at: number;
    readonly heading: string | null;
    readonly kinds: ReadonlySet<string>;
  },
): string[] {
  const { tag } = sentence;
  const { from, to, how, item } = bounded;
  const before = tag.slice(0, from);
  const after = tag.slice(to);
  const clauseFrom = Math.max(
    0,
    ...[' , ', ' ( ', ' ) ', ' : ', ' but ', ' and ', ' - ', ' if '].map((mark) => {
      const at = before.lastIndexOf(mark);
      return at < 0 ? 0 : at + 1;
    }),
  );
  const ends = [' , ', ' ( ', ' ) ', ' but ', ' - ', ' if ']
    .map((mark) => after.indexOf(mark))
    .filter((at) => at >= 0);
  const clauseBefore = before.slice(clauseFrom);
  const clauseAfter = after.slice(0, ends.length > 0 ? Math.min(...ends) : undefined);
  const features = [`how:${how}`, `unit:${item.dimension ?? 'none'}`];
  const value = item.value ?? 0;
  if (item.dimension === 'duration') {
    const seconds = value / 1e6;
    features.push(
      seconds < 8
        ? 'tiny'
        : seconds < 25
          ? 'brief'
          : seconds <= 660
            ? 'usual'
            : seconds <= 1300
              ? 'lengthy'
              : 'huge',
    );
    if (seconds > 660) features.push(`beyond:${how === 'bare' ? 'bare' : 'bound'}`);
  }
  for (const [name, words] of CLASSES) {
    if (words.test(clauseBefore)) features.push(`${name}<`);
    else if (words.test(before)) features.push(`${name}<<`);
    if (words.test(clauseAfter)) features.push(`${name}>`);
    else if (words.test(after)) features.push(`${name}>>`);
    if (words.test(tag)) features.push(`${name}+${how}`);
  }
  const last = NUMBER_BEFORE.exec(before.replace(/ (?:a|an|the|about|of) ?$/, ''))?.[1];
  const next = /^ ?(?:- )?([a-z'-]+|[(:,=)-])/.exec(after)?.[1];
  features.push(`last:${last ?? 'start'}`, `next:${next ?? 'end'}`);
  const verb = cues.filter((cue) => cue.to <= from && 'hand make look told be'.includes(cue.cue)).at(-1);
  features.push(`verb:${verb?.cue ?? 'none'}`);
  for (const cue of cues)
    if (
      cue.from >= clauseFrom &&
      cue.to <= from &&
      (cue.cue === 'not' ||
        cue.cue === 'if' ||
        cue.cue === 'must' ||
        cue.cue === 'may' ||
        cue.cue === 'example')
    )
      features.push(`${cue.cue}<`);
  features.push(
    cues.some(({ cue }) => cue === 'hand') ? 'hand' : 'hand:no',
    cues.some(({ cue }) => cue === 'make') ? 'make' : 'make:no',
  );
  if (clauseBefore.trim() === '' && clauseAfter.trim() === '') features.push('alone', `alone+${how}`);
  if (before.trim() === '') features.push('first', `first+${how}`);
  if (
    /:\s*$/.test(
      before.replace(
        /(?:about|around|at|no|more|less|than|max|min|between|from|up|to|under|over|least|most|[ #])*$/,
        '',
      ),
    )
  )
    features.push('after-colon');
  if (before.lastIndexOf('(') > before.lastIndexOf(')')) features.push('bracket');
  if (/#[BLFPSR]\d+#/.test(tag.replace(tag.slice(from, to), ''))) features.push('figures');
  if (place.heading) features.push('heading');
  features.push(
    place.count === 1 ? 'only' : `of:${Math.min(3, place.count)}`,
    place.at === 0 ? 'foremost' : 'not-foremost',
  );
  features.push(
    place.kinds.size === 0
      ? 'kinds:0'
      : place.kinds.has('video') || place.kinds.has('sound')
        ? 'kinds:timed'
        : 'kinds:still',
  );
  if (/\b(?:i|we|my|our)\b/.test(clauseBefore)) features.push('teacher');
  if (ACTIVITY.test(tag)) features.push(CLASSES[0]?.[1].test(tag) ? 'activity-first' : 'activity-alone');
  if (place.isNothingAsked) features.push('nothing-asked');
  if (item.isArticle) features.push('article', `article+${how}`);
  if (/^ (?:a|per|each|every) (?:day|week|session|night|student|person|group|piece)\b/.test(after))
    features.push('per-day');
  return [...new Set(features)];
}
