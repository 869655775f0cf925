import { convertSsimToClarity, describeClarity } from '../fit/clarity.ts';
import type { ProofFinding, ProofRowId } from '../limits/finding.ts';
import type { MediaFacts } from '../media/facts.ts';
import { formatDuration } from '../units/duration.ts';
import { judgeAbout } from './judge-about.ts';
import { judgeHidden } from './judge-hidden.ts';
import { judgeLoudness, judgeSound, judgeStep } from './judge-sound.ts';
import { unknown, when, type ProofEvidence, type Row } from './proof-evidence.ts';

/**
 * Beyond this the picture is not what the samples promised; below that nothing can be told apart any more.
 */
const MOST_CLARITY_LOST = 0.04;
const LEAST_CLARITY = { mean: 0.55, worst: 0.3 } as const;
/**
 * The same of a photograph, by its worst place: coarse coding of heavy grain keeps 0.52, a blur of six points
 * loses that without any grain.
 */
const LEAST_STILL_CLARITY = { mean: 0.58, worst: 0.5 } as const;
/** Contrast and brightness over the whole file; a wrong range changes contrast by a seventh. */
const MOST_CONTRAST_CHANGE = 0.09;
const MOST_SHIFT_LEVELS = 7;
/**
 * Color differences over all areas, and of the part that differs most: files that others made right, down
 * to 240 lines, stay below 0.5 and 1.6; the mildest that is wrong, half as strong again, has 2.0. A tone
 * curve of bright ranges is a matter of choice: another one has 7, none at all 18.
 */
const MOST_DELTA_E = {
  plain: { mean: 1.5, high: 8, part: 6 },
  toneMapped: { mean: 9, high: 14, part: 14 },
} as const;
/** Points at the edge may lie off by this share of it: one of 240 goes where sizes are made even. */
const MOST_EDGE_SHARE = 0.005;
/** Proportions are rounded too, of both edges. */
const MOST_STRETCH = 3 * MOST_EDGE_SHARE;
/** Lengths of picture and sound against the timeline. */
const MOST_LENGTH_OFF_US = 40_000;

const AGAIN = 'Make the file again. If it comes out short again, bring the recording in anew.';

/**
 * Findings of the proof itself, beside those of the limits: whether the file is the recording, and nothing
 * but it.
 */
export function judgeProof(evidence: ProofEvidence): ProofFinding[] {
  const rows: [ProofRowId, Row | null][] = [
    ['whole', judgeWhole(evidence)],
    ['frames', judgeFrameCount(evidence)],
    ['picture', judgePicture(evidence)],
    ['order', judgeOrder(evidence)],
    ['geometry', judgeGeometry(evidence)],
    ['hidden', judgeHidden(evidence)],
    ['color', judgeColor(evidence)],
    ['clarity', judgeClarity(evidence)],
    ['lengths', judgeLengths(evidence)],
    ['sound', judgeSound(evidence)],
    ['step', judgeStep(evidence)],
    ['loudness', judgeLoudness(evidence)],
    ['pages', judgePages(evidence)],
    ['about', judgeAbout(evidence)],
    ['private', judgePrivate(evidence)],
  ];
  return rows.flatMap(([row, found]) => (found ? [buildFinding(row, found, evidence.facts)] : []));
}

function buildFinding(row: ProofRowId, found: Row, facts: MediaFacts): ProofFinding {
  return {
    of: 'proof',
    row,
    severity: 'must',
    stage: 'proven',
    state: found.state,
    label: found.label,
    figure: found.figure,
    value: found.value ?? null,
    unit: found.unit ?? null,
    wanted: found.wanted,
    margin: found.margin ?? null,
    method: found.method,
    measuredOn: facts.sha256,
    sentence: found.sentence,
    fix: found.state === 'short' ? { by: 'machine', text: found.fix ?? AGAIN } : null,
    bullet: null,
  };
}

const at = (evidence: ProofEvidence, output: number) => {
  const rate = evidence.timeline?.rate;
  return rate ? formatDuration((output * rate.denominator * 1e6) / rate.numerator, 2) : String(output);
};

function judgeWhole({ decoded, facts }: ProofEvidence): Row | null {
  if (!decoded) return null;
  const { errorCount, frameCount } = decoded;
  const indexed = facts.video?.frameCount ?? null;
  const isMet = errorCount === 0 && (indexed === null || frameCount === indexed);
  return {
    state: when(isMet),
    label: 'Decodes whole',
    figure: errorCount === 0 ? 'no error' : `${errorCount} errors`,
    value: errorCount,
    unit: 'error',
    wanted: 'no error from start to end',
    method: 'the whole file decoded once',
    sentence: isMet
      ? 'It decodes from start to end without an error.'
      : errorCount > 0
        ? `${errorCount} errors came up while it was decoded.`
        : `The file lists ${indexed ?? 0} frames, ${frameCount} can be decoded.`,
  };
}

function judgeFrameCount({ timeline, decoded, facts }: ProofEvidence): Row | null {
  if (!timeline?.rate || !facts.video) return null;
  const wanted = String(timeline.frameCount);
  if (!decoded) return unknown('Frames', wanted, 'Nobody counted the frames.');
  const count = decoded.frameCount;
  const isMet = count === timeline.frameCount;
  return {
    state: when(isMet),
    label: 'Frames',
    figure: String(count),
    value: count,
    unit: 'frame',
    wanted,
    margin: -Math.abs(count - timeline.frameCount),
    method: 'every frame decoded and counted',
    sentence: isMet
      ? `All ${count} frames are there.`
      : `${count} frames are there, ${timeline.frameCount} were to be.`,
  };
}

const FRAME_METHOD = 'a small picture of every frame, held against that of the recording';

function judgePicture(evidence: ProofEvidence): Row | null {
  const { frames, timeline, facts } = evidence;
  const label = 'The same picture';
  if (facts.video && timeline?.rate && !frames)
    return unknown(label, 'as recorded', 'There is nothing to hold the frames against.');
  if (!frames) return null;
  const isAll = frames.compared > 0 && frames.unlikeCount === 0;
  const isLevel =
    Math.abs(frames.contrast - 1) <= MOST_CONTRAST_CHANGE &&
    (evidence.isToneMapped || Math.abs(frames.shiftLevels) <= MOST_SHIFT_LEVELS) &&
    frames.offLevelCount <= frames.compared * 0.002;
  const first = frames.unlike[0];
  const state = frames.compared === 0 ? 'unknown' : when(isAll && (isLevel || evidence.isToneMapped));
  return {
    state,
    label,
    figure: frames.unlikeCount > 0 ? `${frames.unlikeCount} unlike` : `all ${frames.compared}`,
    value: frames.unlikeCount,
    unit: 'frame',
    wanted: 'every frame as recorded',
    method: FRAME_METHOD,
    sentence:
      frames.compared === 0
        ? 'No frame was compared.'
        : !isAll
          ? `${frames.unlikeCount} frames show something else, the first at ${at(evidence, first?.output ?? 0)}.`
          : !isLevel && !evidence.isToneMapped
            ? 'Brightness or contrast are not those of the recording.'
            : `All ${frames.compared} frames show what was recorded.`,
  };
}

function judgeOrder(evidence: ProofEvidence): Row | null {
  const { frames, facts } = evidence;
  if (!frames || !facts.video || frames.compared === 0) return null;
  const still = frames.compared - frames.unlikeCount - frames.toldApart;
  const first = frames.misplaced[0];
  const isMet = frames.misplacedCount === 0;
  const cannotTell = isMet && frames.toldApart === 0;
  return {
    state: cannotTell ? 'person' : when(isMet),
    label: 'Every frame in its place',
    figure: isMet ? `${frames.toldApart} of ${frames.compared}` : `${frames.misplacedCount} misplaced`,
    value: frames.misplacedCount,
    unit: 'frame',
    wanted: 'the frame that was kept, at each place',
    method: `${FRAME_METHOD} and against its neighbours`,
    sentence: cannotTell
      ? 'Nothing moves, so neighbouring frames cannot be told apart.'
      : isMet
        ? still > 0
          ? `${frames.toldApart} frames are in their places; ${still} stand still and cannot be told apart.`
          : `All ${frames.toldApart} frames are in their places.`
        : `${frames.misplacedCount} frames are not in their places, ` +
          `the first at ${at(evidence, first?.output ?? 0)}.`,
  };
}

function judgeGeometry({ geometry, proportions, facts, color }: ProofEvidence): Row | null {
  const hasPicture = facts.video !== null || facts.photo !== null;
  if (!hasPicture || !color) return null;
  const label = 'Whole picture';
  const wanted = `edges within ${MOST_EDGE_SHARE * 100} %`;
  const stretch = proportions ? proportions.found / proportions.wanted : 1;
  if (Math.abs(stretch - 1) > MOST_STRETCH)
    return {
      state: 'short',
      label,
      figure: `off by ${(Math.abs(stretch - 1) * 100).toFixed(1)} %`,
      value: Math.abs(stretch - 1),
      unit: 'share',
      wanted,
      margin: MOST_STRETCH - Math.abs(stretch - 1),
      method: 'width and height as shown, with the shape of its points',
      sentence: `It is shown ${(Math.abs(stretch - 1) * 100).toFixed(0)} % too ${stretch > 1 ? 'wide' : 'narrow'}.`,
    };
  if (!geometry)
    return {
      state: 'person',
      label,
      figure: null,
      wanted: 'nothing cut off or moved',
      method: 'least squares over small color pictures',
      sentence: 'There are no edges in the picture by which a cut could be seen.',
    };
  const { zoomX, zoomY, shiftX, shiftY, turn } = geometry;
  const size = facts.video ?? facts.photo ?? { widthPx: 1, heightPx: 1 };
  const turned = (Math.abs(turn) / 2) * Math.max(size.widthPx / size.heightPx, size.heightPx / size.widthPx);
  const edge =
    Math.max(Math.abs(zoomX) / 2 + Math.abs(shiftX), Math.abs(zoomY) / 2 + Math.abs(shiftY)) + turned;
  const isMet = edge <= MOST_EDGE_SHARE;
  return {
    state: when(isMet),
    label,
    figure: `off by ${(edge * 100).toFixed(2)} %`,
    value: edge,
    unit: 'share',
    wanted,
    margin: MOST_EDGE_SHARE - edge,
    method: `least squares over ${geometry.picturesCompared} small color pictures`,
    sentence: isMet
      ? 'What was to be seen is there, nothing cut off or moved.'
      : `The picture is cut, moved or turned: its edges are off by ${(edge * 100).toFixed(1)} %.`,
  };
}

function judgeColor({ color, facts, isToneMapped, isReshaped }: ProofEvidence): Row | null {
  const hasPicture = facts.video !== null || facts.photo !== null || facts.document !== null;
  const label = 'Colors';
  if (!hasPicture) return null;
  if (!color || color.picturesCompared === 0)
    return unknown(label, 'as recorded', 'There is nothing to hold the colors against.');
  const most = isToneMapped ? MOST_DELTA_E.toneMapped : MOST_DELTA_E.plain;
  const { worstPart: part } = color;
  const isEverywhere = color.meanDeltaE > most.mean || color.highDeltaE > most.high;
  const isPartly = part !== null && part.deltaE > most.part;
  const worst = !isEverywhere && isPartly ? part.deltaE : color.meanDeltaE;
  const bound = !isEverywhere && isPartly ? most.part : most.mean;
  return {
    state: when(!isEverywhere && !isPartly),
    label,
    figure: `ΔE ${worst.toFixed(1)}`,
    value: worst,
    unit: 'ΔE00',
    wanted: `ΔE at most ${bound}`,
    margin: bound - worst,
    method: `CIEDE2000 over ${color.picturesCompared} small pictures, as a standard display shows both`,
    sentence: isEverywhere
      ? isReshaped
        ? 'The colors are not what the recipe makes of those of the recording.'
        : 'The colors are not those of the recording.'
      : isPartly
        ? `${namePart(part)} something else is seen than in the recording.`
        : isReshaped
          ? 'The colors are those of the recording as they were to be put right.'
          : 'The colors are those of the recording.',
  };
}

/** Where in the picture, in words. */
function namePart({ x, y }: { readonly x: number; readonly y: number }): string {
  const third = (share: number, names: readonly [string, string, string]) =>
    names[Math.min(2, Math.floor(share * 3))] ?? '';
  const place = [third(y, ['top', '', 'bottom']), third(x, ['left', '', 'right'])].filter(
    (each) => each !== '',
  );
  return place.length === 0 ? 'In the middle' : `At the ${place.join(' ')}`;
}

function judgeClarity({ clarity, facts }: ProofEvidence): Row | null {
  if (clarity === undefined || (!facts.video && !facts.photo)) return null;
  const label = 'Clarity';
  if (clarity === null || (clarity.kind === 'ssim' && clarity.framesCompared === 0))
    return unknown(label, 'as the size allows', 'Nobody compared how clear it is.');
  if (clarity.kind === 'taken-over') {
    const isMet = clarity.sameCount >= clarity.wantedCount;
    return {
      state: when(isMet),
      label,
      figure: `${clarity.sameCount} of ${clarity.total} the same`,
      value: clarity.sameCount,
      unit: 'frame',
      wanted: `${clarity.wantedCount} taken over unchanged`,
      method: 'coded pictures compared byte for byte with those of the recording',
      sentence: isMet
        ? `${clarity.sameCount} of ${clarity.total} coded pictures are byte for byte those of the recording.`
        : `Only ${clarity.sameCount} of ${clarity.wantedCount} pictures were taken over unchanged.`,
    };
  }
  const { ssimMean, ssimWorst, framesCompared, promised } = clarity;
  const lost = promised === null ? 0 : promised - ssimMean;
  const least = facts.photo ? LEAST_STILL_CLARITY : LEAST_CLARITY;
  const isThere = ssimMean >= least.mean && ssimWorst >= least.worst;
  const figure = convertSsimToClarity(ssimMean).toFixed(1);
  const worst = convertSsimToClarity(ssimWorst).toFixed(1);
  return {
    state: when(isThere && lost <= MOST_CLARITY_LOST),
    label,
    figure: `${figure} of 100`,
    value: ssimMean,
    unit: null,
    wanted:
      promised === null
        ? `at least ${convertSsimToClarity(least.mean).toFixed(0)}`
        : `about ${convertSsimToClarity(promised).toFixed(1)}`,
    margin: promised === null ? ssimMean - least.mean : -lost,
    method: `${framesCompared} ${facts.photo ? 'places' : 'frames'} compared with the recording at the file’s own size (SSIM)`,
    sentence: isThere
      ? `${figure} of 100 beside the recording at the file’s own size, ${describeClarity(ssimMean)}; ` +
        `the worst ${facts.photo ? 'place' : 'second'} has ${worst}.`
      : `${figure} of 100: hardly anything of the picture is left.`,
    fix: facts.photo
      ? 'Make it again, with more bytes or fewer points.'
      : 'Make it again, or choose fewer lines in the chart.',
  };
}

function judgeLengths({ timeline, facts, isSoundWanted }: ProofEvidence): Row | null {
  if (!timeline) return null;
  const picture = facts.video ? facts.video.durationUs : null;
  const sound = facts.sound ? facts.sound.startUs + facts.sound.durationUs : null;
  const off = (us: number | null) => (us === null ? 0 : us - timeline.durationUs);
  const [pictureOff, soundOff] = [off(picture), off(sound)];
  // Coded sound stands in whole blocks, and some codings tell the delay of their coder with it.
  const block = facts.sound ? (4096 / facts.sound.rateHz) * 1e6 : 0;
  const isPictureMet = Math.abs(pictureOff) <= MOST_LENGTH_OFF_US;
  const isSoundMet = soundOff <= MOST_LENGTH_OFF_US + block && soundOff >= -MOST_LENGTH_OFF_US - block;
  const worst = isPictureMet ? soundOff : pictureOff;
  return {
    state: when(isPictureMet && (!isSoundWanted || isSoundMet)),
    label: 'Lengths',
    figure: [picture, sound]
      .filter((us) => us !== null)
      .map((us) => formatDuration(us, 2))
      .join(' and '),
    value: worst,
    unit: 'us',
    wanted: formatDuration(timeline.durationUs, 2),
    method: 'time stamps of picture and sound, each against what was kept',
    sentence:
      isPictureMet && isSoundMet
        ? 'Picture and sound are as long as what was kept.'
        : `The ${isPictureMet ? 'sound' : 'picture'} is ${formatDuration(Math.abs(worst), 2)} too ${worst > 0 ? 'long' : 'short'}.`,
  };
}

function judgePages({ pages }: ProofEvidence): Row | null {
  if (!pages) return null;
  const isMet = pages.found === pages.wanted;
  return {
    state: when(isMet),
    label: 'Pages',
    figure: String(pages.found),
    value: pages.found,
    unit: 'page',
    wanted: String(pages.wanted),
    method: 'every page drawn and counted',
    sentence: isMet
      ? `All ${pages.found} pages are there.`
      : `${pages.found} pages are there, ${pages.wanted} were to be.`,
  };
}

function judgePrivate({ facts }: ProofEvidence): Row {
  const label = 'Private data';
  const { locationPresent, deviceSerialPresent } = facts;
  const isThere = locationPresent === true || deviceSerialPresent === true;
  const isKnown = locationPresent !== null && deviceSerialPresent !== null;
  return {
    state: isThere ? 'short' : isKnown ? 'met' : 'unknown',
    label,
    figure: isThere ? 'inside' : isKnown ? 'none' : null,
    wanted: 'no place and no device number',
    method: 'metadata of the file',
    sentence: isThere
      ? 'It tells where or with what it was recorded.'
      : isKnown
        ? 'It tells neither where nor with which device it was recorded.'
        : 'Whether it tells where it was recorded cannot be read from this kind of file.',
  };
}
