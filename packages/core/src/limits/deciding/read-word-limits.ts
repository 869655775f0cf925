import type { LimitKind, Severity } from '../limit.ts';
import type { Sentence } from '../finding/sentences.ts';

type Raw = { readonly kind: LimitKind } & Record<string, unknown>;

export interface WordMatch {
  /** null where the words say that nothing is asked for. */
  readonly raw: Raw | null;
  /** Where the words themselves say how much it is meant. */
  readonly severity?: Severity;
  readonly from: number;
  readonly to: number;
}

interface WordRule {
  readonly raw: Raw | null;
  readonly pattern: RegExp;
  /** Sentences in which the words mean something else. */
  readonly unless?: RegExp;
  /** The number in group 1 has to be one. */
  readonly isOne?: boolean;
}

const NOT = "(?:no|not|never|without|avoid|[a-z]+n't)";
const ART =
  '(?:piece|work|artwork|painting|print|drawing|sculpture|object|image|body|figure|model|canvas|page|sheet|picture|thing|board|block|design|composition)';
const SEEN =
  '(?:in (?:the )?(?:view|frame|shot|picture)|visible|inside|shown|be seen|fits? (?:in|inside)|in sight)';

/**
 * Words that ask for something without a figure. Each row is tried on every sentence; the first match of a
 * row counts.
 */
const rules: readonly WordRule[] = [
  {
    raw: null,
    pattern:
      /\b(?:no (?:sound|audio) (?:is )?(?:needed|necessary|required)|(?:sound|audio) is(?: not|n't) (?:needed|necessary|required|important)|do(?: not|n't) need (?:any )?(?:sound|audio)|with or without (?:sound|audio)|(?:sound|audio) or (?:be )?silent|silent or (?:with|have) (?:sound|audio))\b/,
  },
  {
    raw: { kind: 'sound-present', isWanted: false },
    pattern:
      /\b(?:(?:no|without|without any) (?:sound|audio)\b(?! (?:is|needed|required|limit|quality))|(?:must be|has to be|should be|be|a) silent\b|silent (?:video|film|clip|movie)|(?:mute|remove|strip|take out|turn off|switch off) (?:the )?(?:sound|audio)\b)/,
  },
  {
    raw: { kind: 'sound-present', isWanted: true },
    pattern:
      /\b(?:there (?:has to|must|needs to|should) be (?:some )?(?:sound|audio)|(?:must|have to|need to|needs to|has to|be able to) (?:clearly )?hear (?:you|u|it|your|every|both|the)\b|(?:with|have|has|having|include|includes|including|need|needs|contain|contains|keep) (?:the |its |good |clear |some |original |live )?(?:sound|audio)\b(?! (?:files?|only|recordings?|off))|(?:sound|audio|music|voices?|dialogue|words) (?:must|has to|have to|needs? to|should) (?:always |still )?be (?:on|audible|heard|included|there|clearly (?:audible|heard))|(?:sound|audio|music|voices?) (?:is|are) (?:on and )?audible|(?:sound|audio|music|voice|voices)\b[^.,]{0,30}\baudible\b|(?:sound|audio) on\b|(?:sound|audio) (?:: (?:yes|on|essential|required|needed|a must)\b|is (?:needed|required|essential|a must)|must be (?:on|included|there))|(?:not|n't) (?:be )?(?:mute|muted|silent)\b|not a silent|silent (?:clip|film|video|one)s? (?:is|are)(?: not|n't)|sound (?:has|needs) (?:to|2) be (?:on|heard)|mute = no (?:marks?|points?))/,
  },
  {
    raw: { kind: 'channels', wanted: 2 },
    pattern: /\bstereo\b|\b(?:two|2) channels?\b|\btwo - channel\b|^two channels\b/,
    unless: /\b(?:mono or (?:in )?stereo|stereo or (?:in )?mono|not (?:in )?stereo|stereotyp\w*)\b/,
  },
  {
    raw: { kind: 'channels', wanted: 1 },
    pattern: /\bmono\b/,
    unless:
      /\b(?:mono is (?:perfectly |quite |absolutely |totally |also )?(?:fine|ok|okay|all right|acceptable|allowed)|mono or (?:in )?stereo|stereo or (?:in )?mono|not (?:in )?mono)\b/,
  },
  {
    raw: { kind: 'no-clipping' },
    pattern: new RegExp(
      `\\b(?:(?:no|avoid|without)(?: any)?(?: digital)? clipping\\b|${NOT}(?: ever)? (?:be )?(?:clip|clipped|clipping)\\b|nothing (?:clips|is clipped)\\b|unclipped\\b|${NOT}(?: be| is)? distort(?:ed|s)?\\b|no distortion\\b)`,
    ),
  },
  {
    raw: { kind: 'one-take' },
    isOne: true,
    pattern:
      /(#N\d+#)(?: (?:unbroken|continuous|long|uninterrupted|unedited|straight|full|complete|whole))* (?:take|shot|go)\b(?! at (?:uploading|handing))/,
  },
  {
    raw: { kind: 'one-take' },
    pattern: new RegExp(
      `\\b(?:(?:a|an|one) (?:unbroken|continuous|uninterrupted|unedited) (?:take|shot|recording|film|video)|(?:unbroken|continuous|uninterrupted) (?:take|shot|recording|film|video)|${NOT}(?: contain| have| include| use| make)?(?: any)? (?:edits|cuts|editing|edited|splic\\w+|joins|jump cuts)\\b|${NOT} (?:be )?(?:cut or edit(?:ed)?|edit(?:ed)? or cut|edit(?! (?:them|the photo|your photo|the picture|your picture|photos|pictures))|stop the (?:camera|recording)|pause the (?:camera|recording))(?: it| the| your|\\b)|without (?:stopping|pausing) the (?:camera|recording|phone)|unedited|uncut|(?:neither|no|not|never|nor)\\b[^.]{0,40}\\bedited|without (?:any )?(?:stitching|splicing|joins|editing|cutting|edits|cuts?)|(?:not|n't|never)(?: [a-z]+){0,3} (?:it |them |the (?:film|video|clip) )?cut together|let the camera run)\\b`,
    ),
    unless:
      /\b(?:no cuts (?:or|and) bruises|(?:ignore|scrap|forget|disregard|drop|scratch)\b[^.]{0,40}\btake|allowed to (?:cut|edit)|editing is (?:fine|ok|okay|allowed)|not edited by|edits are (?:fine|allowed|ok))\b/,
  },
  {
    raw: { kind: 'whole-piece' },
    pattern: new RegExp(
      `\\b(?:(?:whole|entire|complete|full) ${ART}\\b[^.]{0,60}?\\b${SEEN}|all (?:of )?(?:the |its |your )?(?:#N\\d+# )?(?:edges|corners|sides)\\b(?:[^.]{0,40}?\\b${SEEN})?|${SEEN} (?:of )?(?:the )?(?:whole|entire) ${ART}|(?:show|fit|get|keep) (?:the |your )?(?:whole|entire|complete) ${ART}|nothing (?:is |be |gets )?(?:cut off|cropped off|cropped))\\b`,
    ),
  },
  {
    raw: { kind: 'different' },
    pattern:
      /\b(?:#N\d+# (?:quite |completely |entirely |very )?different (?:files?|pictures?|photos?|photographs?|images?|pieces?|works?|videos?|clips?|recordings?|views?|angles?|sides?)|(?:each|every) (?:file|picture|photo|photograph|image|recording|clip) (?:must|has to|should) be (?:a )?different|(?:not|never|n't)(?: hand in| submit| send| upload| use)? the same (?:file|picture|photo|photograph|image|recording|clip|video)(?: twice| again| more than once)?)\b/,
    unless: /\bdifferent (?:files?|formats?) (?:types?|formats?)\b/,
  },
  {
    raw: { kind: 'sharp' },
    pattern:
      /\b(?:in (?:sharp |good )?focus|sharply focus\w*|(?:not|n't|never)(?: be| is| look)? (?:blurry|blurred|out of focus)|no (?:blur|blurry|blurred|blurriness)|(?:must|should|has to|have to|needs to|need to|is|are|be|and) (?:be )?(?:pin )?sharp)\b/,
    unless:
      /\b(?:[a-g] sharp|sharp (?:minor|major|key|pencils?|knife|blade|left|turn|scissors|tools?)|#T\d+# sharp|o'clock sharp)\b/,
  },
  {
    raw: { kind: 'location-removed' },
    pattern:
      /\b(?:remove|strip|delete|take out|turn off|switch off|without|no|clear|wipe|leave out|scrub|get rid of|drop) (?:[a-z]+ ){0,4}?(?:location|gps|geotag\w*|geolocation|geo data|(?:where|place) (?:it|they|you|the [a-z]+|your [a-z]+) (?:was|were|is|are) (?:taken|photographed|filmed|recorded|shot|made)|place data)\b/,
    unless: /\bno location (?:fee|scout)\b/,
  },
  {
    raw: { kind: 'participants' },
    pattern:
      /\b(?:(?:tell (?:me|us)|say|write down|write|state|list|name|credit|note|let (?:me|us) know|put|include|mention|give|add|with|send)\b[^.]{0,60}?\b(?:(?!who (?:gave|accompanied|must|should|cannot|can't|is not|will))(?<!artist |artists |person |someone |anyone |composer |character |characters |people |those |painter |students |everyone |somebody |partner |friend |figure )who\b(?! cares| knows| inspired| influenced| made| wrote| painted)|everyone\b|everybody\b|all (?:of )?(?:the )?(?:performers|players|dancers|members|participants|actors|musicians|singers|people)\b|(?:the |all |full )*names? of\b(?! the (?:piece|file|work|song|play|artist|composer|author|track))|(?:the |your )?(?:whole |full )?cast\b|your (?:accompanist|partners?|group|fellow|cast|pianist|duet partner)\b|names\b)|everyone's names\b|everybody's names\b|all (?:the |your )?names\b|names of (?:all|everyone|everybody|the (?:performers|players|dancers|actors|singers|group))\b)/,
    unless: /\b(?:file ?names?|name (?:it|the file|your file)|names? (?:it|the files?|your files?) )\b/,
  },
  {
    raw: { kind: 'note' },
    pattern:
      /\b(?:(?:in|into|as|via|through|under|use|using|with) (?:the |a |an |your |my )?(?:submission |private |assignment |upload |short |brief )?(?:comments?\b|notes? (?:box|field|section))|(?:put|write|type|leave|give|say|tell|list|name)\b[^.]{0,60} in the notes?(?=$| ,| too| as well| please)|(?:comments?|notes?) (?:box|field|section)\b|(?:a|one) (?:[a-z]+ ){0,2}comment (?:must|has to|should|is to|needs to)\b)|\b(?:leave|add|attach|write|include|type|give|put|with|send) (?:me |us )?(?:a |an |one )(?:[a-z]+ ){0,2}(?:comment|note)\b|\b(?:add|write|include|attach|send|with|submit|hand in|provide|give|leave|put in)\b[^.]{0,90}?\b(?:notes?|paragraph|comment|reflection|commentary|statement of intent|explanation|description|few (?:words|sentences|lines)|caption|evaluation|rationale|annotation)\b/,
    unless:
      /\b(?:program(?:me)? notes|(?:and|,) notes together|note ?books?|sheet|notes? (?:and|,) rhythms?|(?:last|first|high|low|final|wrong|right|each|every|long) notes?|notes? (?:that|name)|in the notes?|take notes?|sticky notes?|grace notes?|your name)\b/,
  },
  {
    raw: { kind: 'participants' },
    pattern:
      /\b(?:(?:must |should |please |has to |have to |and |to )?(?:credit|acknowledge|cite)(?:s|d|ed|ing)? (?:the |every|all |any |your |everyone|everybody|at least|each|its|original|[a-z]+ (?:you|and))|(?:is|are|be|been|gets?) (?:to be )?(?:fully |properly |also )?(?:credited|acknowledged|cited|attributed)|needs? (?:crediting|citing|a credit)|(?:full|end|closing|opening|spoken) credits\b|credits? (?:for|to|at the end|in the)|sources? (?:of|for) (?:all|every|any|the)|list (?:of )?(?:your |all )?sources|(?:listed?|names?|print|write down|say|show|shown|give|with)\b[^.]{0,40}\b(?:(?:their|its|your|the|every|each) sources?|whose it is|who (?:wrote|composed|made) it|title and artist|maker's name|where (?:each|every|it|they)[a-z ]{0,20} (?:from|came))\b)/,
    unless:
      /\b(?:extra credit|course credit|(?:nobody|no one|will) gets? credit|receive credit|full credit|credit card|credits? (?:course|towards))\b/,
  },
  {
    raw: { kind: 'own-work' },
    pattern:
      /\b(?:(?:made|written|composed|choreographed|created) by (?:you|yourself|nobody but you|no one but you)\b|must be from you\b|own work only|work (?:is |must be |has to be |should be |shall be )?(?:yours|theirs|your own|their own|his or her own)\b|(?:entirely|all|completely|only) (?:your|their) own\b(?! words)|must be (?:entirely |all |completely )?(?:your|their) own\b(?! words)|(?:your|my|their|our) own(?: original| unaided)? work|work (?:must|has to|should) be (?:entirely |all )?your own\b|authenticity|own unaided work|original work|declaration of (?:own|original)|academic honesty|plagiari[sz]\w+ statement)\b/,
    unless: /\bown work (?:space|bench|table|surface|pace|rate)\b/,
  },
  {
    raw: { kind: 'late', isAllowed: false },
    pattern:
      /\b(?:no late (?:work|submissions?|entries|hand ins?|uploads?|files)|late (?:work|submissions?|entries|hand ins?|uploads?|files) (?:is|are|will|wo|ca|cannot|can't|won't|isn't|aren't)(?: not|n't)?(?: not)? (?:be )?(?:not )?(?:accepted|taken|marked|allowed|refused|rejected|ignored)|(?:nothing|not|n't) (?:is |will be |be |can be )?(?:accepted|taken|marked) (?:late|after)|(?:not|n't|never) (?:accept|take|mark) (?:any )?(?:late|anything late|it late)|nothing (?:late|after)|no extensions|(?:handed in|submitted|uploaded|arriving|anything)(?: in)? (?:late|after (?:that|this|then|the deadline))\b[^.]{0,30}?\b(?:no marks|zero|nothing|not be (?:marked|accepted|taken))|(?:submissions?|work|entries|uploads?|anything|files?|it)(?: [a-z]+){0,3} after (?:the|this|that) (?:deadline|due date|date|time|point)\b[^.]{0,40}?(?:not|n't)(?: be)? (?:accepted|marked|taken|graded|considered|counted))\b/,
    unless:
      /\blate (?:work|submissions?|entries|hand ins?|uploads?) (?:is|are|will be) (?:accepted|taken|marked|allowed)\b/,
  },
  {
    raw: { kind: 'late', isAllowed: true },
    pattern:
      /\b(?:late (?:work|submissions?|entries|hand ins?|uploads?) (?:is|are|will be|can be|may be) (?:still )?(?:accepted|taken|marked|allowed|ok|okay|fine|possible|welcome)|late (?:work|submissions?|entries|hand ins?) (?:loses?|costs?|gets?|will lose)|(?:off|deducted) for (?:late|each day late|being late)|(?:hand|submit) (?:it )?in late|can be (?:handed in )?late|i (?:will |do )?(?:accept|take) late)\b/,
    unless:
      /\b(?:late work is not|not (?:be )?accepted|do not accept late|don't accept late|n't (?:be )?(?:handed )?(?:in )?late)\b/,
  },
];

/**
 * Whether something in the sentence forbids the words that a match stands on ("do not crop it to a
 * square").
 */
const EITHER_WAY =
  /\b(?:(?:vertical|upright|portrait|landscape|horizontal|sideways)(?: videos?| filming| mode)? (?:is|are)(?: totally| also| perfectly| absolutely| just)* (?:fine|ok|okay|allowed|welcome|acceptable)|do(?: not|n't) mind|does(?: not|n't) matter|either (?:way|is (?:fine|ok|okay))|whichever|up to you|(?:upright|portrait|vertical\w*) or (?:sideways|landscape|horizontal\w*)|(?:landscape|sideways|horizontal\w*) or (?:portrait|upright|vertical\w*))\b/;
const HELD: readonly (readonly ['landscape' | 'portrait', RegExp])[] = [
  [
    'landscape',
    /^(?:[-*+] )?landscape\b|[,:/(] landscape(?= [,/)]|$| please| and| thanks| only)|\blandscape(?= [,/)])|\b(?:(?:in|be|film(?:ed)?(?: it)?|shoot|shot|record(?:ed)?|held?|hold (?:it|the (?:phone|camera))|turn(?:ed)?|use|must be|only|:|no ,|no) landscape\b|landscape (?:mode|orientation|format|only|please|videos?|clips?|films?|view|way|not)\b|landscape(?= ,? (?:not|never) (?:portrait|upright))|sideways\b|side ways\b|horizontal(?:ly)?\b|(?:phone|camera) (?:is )?(?:on its side|lying|flat on its side)\b|on its side\b|widescreen\b)/g,
  ],
  [
    'portrait',
    /(?<=, )portrait (?=since|because|as)|^(?:[-*+] )?portrait\b(?= ?[,:/)]|$| please| and| only| mode)|[,:/(] portrait(?= [,/)]|$| please| and| only)|\b(?:(?:in|be|film(?:ed)?(?: it)?|shoot|shot|record(?:ed)?|held?|hold (?:it|the (?:phone|camera))|use|must be|only|:) portrait\b|portrait (?:mode|orientation|format|only|please|videos?|clips?|films?|view|way|not|is (?:not|fine|ok))\b|upright\b|vertical(?:ly)?\b)/g,
  ],
];
const ART_PICTURE =
  /\b(?:self portrait|work in (?:landscape|portrait)|(?:paper|page|sheet|sketchbook|canvas) (?:in |to |is )*(?:landscape|portrait)|portrait of|portraits of|landscape (?:painting|drawing|picture|photograph of|week|artist)|(?:draw|paint|sketch|print|cut|carve)\b[^.]{0,30}\b(?:landscape|portrait|horizontal|vertical|upright)|upright (?:piano|bass|position|posture)|stand(?:ing)? upright|sit upright|(?:horizontal|vertical) (?:line|lines|jump|balance|axis|beam|bar))\b/;
const NEGATED =
  /\b(?:not|never|no|avoid|rather than|instead of|[a-z]+n't)(?: (?:be|film|filmed|in|it|shoot|use|held|hold|the|phone|phones|videos?|clips?|filming|footage|your|any|do))* $/;
const NEGATED_AFTER =
  /^(?: (?:videos?|clips?|films?|format|mode|orientation|footage|shots?))? (?:is|are|will be) (?:not|n't|never|no good)\b|^(?: (?:videos?|clips?|films?|mode))? (?:not|never) (?:accepted|allowed|ok|okay|fine|acceptable|wanted|good)\b|^ goes? (?:straight )?back|^(?: (?:videos?|clips?|films?))? (?:won't|will not|cannot|can't|goes? (?:straight )?back|(?:will be|are|is|get) (?:sent back|rejected|returned|refused|ignored|deleted))|^ (?:is|are)n't|^ (?:will not|won't)/;

export function readWordLimits(sentence: Sentence): WordMatch[] {
  const found: WordMatch[] = [];
  for (const rule of rules) {
    if (rule.unless?.test(sentence.tag)) continue;
    const match = rule.pattern.exec(sentence.tag);
    if (!match) continue;
    if (rule.isOne && sentence.items[Number(/\d+/.exec(match[1] ?? '')?.[0])]?.value !== 1) continue;
    found.push({ raw: rule.raw, from: match.index, to: match.index + match[0].length });
    if (rule.raw === null) break;
  }
  return [...found, ...readHeld(sentence), ...readSquare(sentence), ...readAttempts(sentence)];
}

/** Sideways or upright; words about the picture's subject ("a self-portrait") are none. */
function readHeld(sentence: Sentence): WordMatch[] {
  const { tag } = sentence;
  if (ART_PICTURE.test(tag)) return [];
  const either = EITHER_WAY.exec(tag);
  const found: { wanted: 'landscape' | 'portrait'; from: number; to: number; isNegated: boolean }[] = [];
  for (const [wanted, pattern] of HELD) {
    for (const match of tag.matchAll(pattern)) {
      const word =
        /(?:landscape|sideways|side ways|horizontal(?:ly)?|on its side|widescreen|portrait|upright|vertical(?:ly)?)/.exec(
          match[0],
        );
      const from = match.index + (word?.index ?? 0);
      const to = from + (word?.[0].length ?? 0);
      found.push({
        wanted,
        from,
        to,
        isNegated: NEGATED.test(tag.slice(0, from)) || NEGATED_AFTER.test(tag.slice(to)),
      });
    }
  }
  if (found.length === 0) return [];
  if (either) return [{ raw: null, from: either.index, to: either.index + either[0].length }];
  const wanted = found.filter((each) => !each.isNegated).at(-1);
  if (wanted)
    return [{ raw: { kind: 'orientation', wanted: wanted.wanted }, from: wanted.from, to: wanted.to }];
  const [negated] = found;
  return negated
    ? [
        {
          raw: { kind: 'orientation', wanted: negated.wanted === 'landscape' ? 'portrait' : 'landscape' },
          from: negated.from,
          to: negated.to,
        },
      ]
    : [];
}

const SQUARE =
  /, square$|\bcrop (?:both|all|each|every one) square\b|\b(?:picture|frame|image|video|film) is square\b|\b(?:(?:must be|has to be|have to be|should be|needs to be|be|in|as|cropped(?: to)?(?: a)?|crop (?:it |them )?(?:to )?(?:a )?) square(?! (?:metres?|brackets?|cm|root))|square (?:format|crop|pictures?|images?|photos?|photographs?|videos?|frame|ratio))\b/;

function readSquare(sentence: Sentence): WordMatch[] {
  const match = SQUARE.exec(sentence.tag);
  return match && !/\b(?:not|never|no|[a-z]+n't)\b[^,]{0,30}$/.test(sentence.tag.slice(0, match.index))
    ? [
        {
          raw: { kind: 'orientation', wanted: 'square' },
          from: match.index,
          to: match.index + match[0].length,
        },
      ]
    : [];
}

const ATTEMPTS = [
  /(#N\d+#) (?:uploads?|go(?:es)?|chances?|tries) (?:are |is )?(?:allowed|permitted|at uploading|to upload|to submit)\b/,
  /\b(?:uploads?|submissions?|attempts?)(?: allowed)? : (#N\d+#)(?: allowed)?/,
  /\byou have (#N\d+#) uploads\b/,
  /(#N\d+#) (?:attempts?|tries|try|goes|chances?|submissions?|hand ins?)\b(?! (?:were|was|have))/,
  /\b(?:hand(?: it| this| them| your work)? in|submit|upload|send|resubmit)(?: it| this| them)?(?: again)?(?: up to| at most| no more than| a maximum of| only)? (#N\d+#) times\b/,
  /\b(?:hand(?: it| this)? in|submit|upload|try)(?: it| this)?(?: only| just)? (once|twice)\b/,
];

function readAttempts(sentence: Sentence): WordMatch[] {
  for (const pattern of ATTEMPTS) {
    const match = pattern.exec(sentence.tag);
    if (!match?.[1]) continue;
    const max =
      match[1] === 'once'
        ? 1
        : match[1] === 'twice'
          ? 2
          : (sentence.items[Number(/\d+/.exec(match[1])?.[0])]?.value ?? 0);
    if (
      Number.isInteger(max) &&
      max > 0 &&
      !/\b(?:three|best of|jump|throw|throws|serve|putt|score|metres|distance|bar|height|trial|filmed|best one|on camera|touches|try it #N)\b/.test(
        sentence.tag,
      )
    )
      return [{ raw: { kind: 'attempts', max }, from: match.index, to: match.index + match[0].length }];
  }
  return [];
}
