import sharp, { type Sharp } from 'sharp';

/** Scans in the order that comes first. */
const FIRST_SCANS = { optimiseScans: false, progressive: true } as const;

/** A way to code: at which resolution color is kept, which tables, with or without thresholds (trellis). */
interface Way extends Partial<typeof FIRST_SCANS> {
  readonly chromaSubsampling: '4:2:0' | '4:4:4';
  readonly quantisationTable: number;
  readonly trellisQuantisation: boolean;
}

const way = (
  chroma: Way['chromaSubsampling'],
  quantisationTable: number,
  trellisQuantisation: boolean,
): Way => ({
  chromaSubsampling: chroma,
  quantisationTable,
  trellisQuantisation,
});
/** The usual tables (N. Robidoux's) first; the others have bytes between two qualities of those. */
const WAYS: readonly Way[] = [
  way('4:2:0', 3, true),
  way('4:4:4', 3, true),
  way('4:2:0', 0, true),
  way('4:4:4', 0, true),
  way('4:2:0', 3, false),
  way('4:4:4', 3, false),
  way('4:4:4', 2, true),
  way('4:4:4', 2, false),
  way('4:4:4', 4, true),
];
const [PLAIN, FULL] = [WAYS[0] as Way, WAYS[1] as Way];

export interface FittedJpeg {
  readonly coded: Buffer;
  readonly quality: number;
  readonly fits: boolean;
  /** How often the whole picture was coded. */
  readonly probes: number;
}

/** From this share of the bytes on nothing finer is looked for. */
const USED_WELL = 0.97;
const AIMED_SHARE = 0.995;
const MOST_PROBES = 4;
/** Qualities of different ways that take the same bytes lie no further apart, as a rule. */
const NEAR = 12;

/** What says how colors are meant; null where something else does. */
export type Profile = 'srgb' | null;

function code(picture: Sharp, own: Way, quality: number, profile: Profile): Promise<Buffer> {
  const told = profile ? picture.clone().withIccProfile(profile) : picture.clone();
  return told.jpeg({ mozjpeg: true, quality, ...own }).toBuffer();
}

/**
 * A JPEG with color at full resolution, whatever it takes: the search for the best order of scans, a third of
 * the time for up to a tenth of the bytes, is left out.
 */
export const codeFreely = (picture: Sharp, quality: number, profile: Profile) =>
  code(picture, { ...FULL, ...FIRST_SCANS }, quality, profile);

/**
 * The JPEG within the bytes that keeps most of a picture, by the mean of squared differences: among some
 * ways to code, with whole qualities between `least` and `most`, foretold on blocks of the picture and then
 * coded until what fits uses the bytes well. `fits` is false where not even `least` does.
 */
export async function fitJpeg(
  picture: Sharp,
  maxBytes: number,
  least: number,
  most: number,
  profile: Profile = null,
): Promise<FittedJpeg> {
  const sample = await openSample(picture);
  const tried = new Map<string, Buffer>();
  let best: Best | null = null;
  /** Bytes of the whole picture beside those of the sample, as far as each way has told. */
  const scales = new Map<Way, number>();
  let { scale } = sample;
  while (tried.size < MOST_PROBES) {
    const bytesOf = (own: Way) => (maxBytes * AIMED_SHARE - HEAD_BYTES) / (scales.get(own) ?? scale);
    const listed = await listChoices(sample, bytesOf, least, most);
    const open = listed.filter(
      (each) => !tried.has(nameChoice(each)) && (best === null || each.loss < best.loss),
    );
    // Where nothing seems to fit, the least of all tells how far that is true.
    const last: Pick<Choice, 'own' | 'quality'> | null =
      best || tried.has(nameChoice(pickLast(least))) ? null : pickLast(least);
    const choice: Pick<Choice, 'own' | 'quality'> | null = open[0] ?? last;
    if (!choice) break;
    const { own, quality }: Pick<Choice, 'own' | 'quality'> = choice;
    const { bytes, loss } = await sample.look(own, quality);
    const coded = await code(picture, own, quality, profile);
    tried.set(nameChoice(choice), coded);
    scale = Math.max(1, coded.length - HEAD_BYTES) / bytes;
    scales.set(own, scale);
    if (coded.length > maxBytes) continue;
    best = { coded, own, quality, loss };
    if (coded.length >= maxBytes * USED_WELL) break;
  }
  if (best) {
    const mostProbes = MOST_CODINGS - tried.size;
    const filled = await fillUp(picture, maxBytes, best, most, { profile, mostProbes });
    return { ...filled, fits: true, probes: tried.size + filled.probes };
  }
  const coded = tried.get(nameChoice(pickLast(least))) ?? (await code(picture, PLAIN, least, profile));
  return { coded, quality: least, fits: coded.length <= maxBytes, probes: tried.size };
}

interface Best extends Pick<Choice, 'own' | 'quality'> {
  readonly coded: Buffer;
  readonly loss: number;
}

/** What is filled up aims at so much of the bytes, and is taken from here on at once. */
const FILLED = { aim: 0.99, well: 0.98 } as const;
const MOST_FILLINGS = 2;
/** So often a picture is coded at the most. */
const MOST_CODINGS = 8;

/** What blocks of a finer coding are put among those of a coarser one with. */
interface Finer {
  readonly own: Way;
  readonly quality: number;
  readonly bytes: number;
}

/**
 * Where no coding lies between two: as many blocks as there are bytes for are taken from a finer one, the
 * others come from what the coarser one made of them. The finer one is first of all the same without
 * thresholds: its tables are the same, so that what the coarser one made comes through as it is; then the
 * next quality. What is not closer to the picture is not taken.
 */
async function fillUp(
  picture: Sharp,
  maxBytes: number,
  best: Best,
  most: number,
  { profile, mostProbes }: { readonly profile: Profile; readonly mostProbes: number },
): Promise<Omit<FittedJpeg, 'fits'>> {
  let [lesser, quality, probes] = [best.coded, best.quality, 0];
  let { own } = best;
  const nexts = [
    ...(own.trellisQuantisation ? [{ own: { ...own, trellisQuantisation: false }, more: 0 }] : []),
    ...[1, 2].map((more) => ({ own, more })),
  ];
  for (const next of nexts) {
    const wanted = { own: next.own, quality: best.quality + next.more };
    if (lesser.length >= maxBytes * USED_WELL || probes >= mostProbes || wanted.quality > most) break;
    const coded = await code(picture, wanted.own, wanted.quality, profile);
    probes += 1;
    if (coded.length > maxBytes) {
      const finer = { ...wanted, bytes: coded.length };
      const limits = { maxBytes, mostProbes: mostProbes - probes };
      const filled = await mixCodings(picture, lesser, finer, limits, profile);
      lesser = filled.coded;
      probes += filled.probes;
    } else if (coded.length > lesser.length) {
      // What was foretold was a little low.
      [lesser, own, quality] = [coded, wanted.own, wanted.quality];
    }
  }
  return { coded: lesser, quality, probes };
}

/** The coarser coding with as many blocks of the finer one as there are bytes for. */
async function mixCodings(
  picture: Sharp,
  lesser: Buffer,
  finer: Finer,
  { maxBytes, mostProbes }: { readonly maxBytes: number; readonly mostProbes: number },
  profile: Profile,
): Promise<{ coded: Buffer; probes: number }> {
  const { data, info } = await picture.clone().raw().toBuffer({ resolveWithObject: true });
  const shown = await sharp(lesser).raw().toBuffer();
  let filled = { coded: lesser, loss: measureLoss(data, shown) };
  // Bytes by the share of blocks that are coded finer, below and above what is wanted.
  let [low, high] = [
    { share: 0, bytes: lesser.length },
    { share: 1, bytes: finer.bytes },
  ];
  let probes = 0;
  while (probes < Math.min(MOST_FILLINGS, mostProbes)) {
    const wanted = (maxBytes * FILLED.aim - low.bytes) / Math.max(1, high.bytes - low.bytes);
    const share = low.share + Math.max(0, Math.min(1, wanted)) * (high.share - low.share);
    const mixed = sharp(mixBlocks(data, shown, info, share), {
      raw: { width: info.width, height: info.height, channels: info.channels },
    });
    const coded = await code(mixed, finer.own, finer.quality, profile);
    probes += 1;
    if (coded.length > maxBytes) {
      high = { share, bytes: coded.length };
      continue;
    }
    low = { share, bytes: coded.length };
    const loss = measureLoss(data, await sharp(coded).raw().toBuffer());
    if (loss < filled.loss) filled = { coded, loss };
    if (coded.length >= maxBytes * FILLED.well) break;
  }
  return { coded: filled.coded, probes };
}

/** Blocks spread evenly over a picture, as many as the share says; the others as they are shown. */
function mixBlocks(
  points: Buffer,
  shown: Buffer,
  { width, height, channels }: { readonly width: number; readonly height: number; readonly channels: number },
  share: number,
): Buffer {
  const made = Buffer.from(shown);
  for (let top = 0; top < height; top += UNIT_PX)
    for (let left = 0; left < width; left += UNIT_PX) {
      // Fractions of multiples of both lie evenly everywhere (M. Roberts' sequence of two dimensions).
      if (((left / UNIT_PX) * 0.7548776662 + (top / UNIT_PX) * 0.5698402909) % 1 >= share) continue;
      const bytes = Math.min(UNIT_PX, width - left) * channels;
      for (let y = top; y < Math.min(height, top + UNIT_PX); y += 1) {
        const from = (y * width + left) * channels;
        points.copy(made, from, from, from + bytes);
      }
    }
  return made;
}

const measureLoss = (points: Buffer, shown: Buffer): number => {
  let sum = 0;
  for (let at = 0; at < points.length; at += 1) sum += ((points[at] as number) - (shown[at] as number)) ** 2;
  return sum / points.length;
};

const pickLast = (least: number) => ({ own: PLAIN, quality: least });
const nameChoice = ({ own, quality }: Pick<Choice, 'own' | 'quality'>) => JSON.stringify([own, quality]);

interface Look {
  readonly bytes: number;
  readonly loss: number;
}

interface Sample {
  /** Bytes of the whole picture beside those of the sample, until they are known. */
  readonly scale: number;
  look(own: Way, quality: number): Promise<Look>;
}

interface Choice extends Look {
  readonly own: Way;
  readonly quality: number;
}

/** Of each way the best quality within its bytes, those that lose least of the sample first. */
async function listChoices(
  sample: Sample,
  bytesOf: (own: Way) => number,
  least: number,
  most: number,
): Promise<Choice[]> {
  const choices: Choice[] = [];
  for (const [index, own] of WAYS.entries()) {
    // Other ways have their place near that of the first.
    const near = index === 0 ? null : (choices[0]?.quality ?? least);
    let [low, high] =
      near === null ? [least - 1, most] : [Math.max(least - 1, near - NEAR), Math.min(most, near + NEAR)];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((await sample.look(own, middle)).bytes <= bytesOf(own)) low = middle;
      else high = middle - 1;
    }
    if (low >= least && (await sample.look(own, low)).bytes <= bytesOf(own))
      choices.push({ own, quality: low, ...(await sample.look(own, low)) });
  }
  return choices.sort((left, right) => left.loss - right.loss);
}

async function openSample(picture: Sharp): Promise<Sample> {
  const { blocks, share } = await takeBlocks(picture);
  const points = await blocks.clone().raw().toBuffer();
  const looked = new Map<string, Promise<Look>>();
  return {
    scale: 1 / share,
    look(own, quality) {
      const key = JSON.stringify([own, quality]);
      const known = looked.get(key);
      if (known) return known;
      const found = lookAt(blocks, points, own, quality);
      looked.set(key, found);
      return found;
    },
  };
}

async function lookAt(blocks: Sharp, points: Buffer, own: Way, quality: number): Promise<Look> {
  // Without a search for the best order of scans, which takes most time and changes proportions little.
  const coded = await blocks
    .clone()
    .jpeg({ mozjpeg: true, quality, ...own, ...FIRST_SCANS })
    .toBuffer();
  const shown = await sharp(coded).raw().toBuffer();
  return { bytes: Math.max(1, coded.length - HEAD_BYTES), loss: measureLoss(points, shown) };
}

/** What tables and markers take, in a small picture as in a large one. */
const HEAD_BYTES = 600;
const BLOCKS = 5;
/** A whole number of the blocks that color is coded in at half its resolution. */
const BLOCK_PX = 64;
const UNIT_PX = 16;

/** Blocks from all over a picture as one small picture, and which share of it they are. */
async function takeBlocks(picture: Sharp): Promise<{ blocks: Sharp; share: number }> {
  const { data, info } = await picture.clone().raw().toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  const measure = (edge: number) =>
    Math.max(UNIT_PX, Math.min(BLOCK_PX, Math.floor(edge / BLOCKS / UNIT_PX) * UNIT_PX));
  const [w, h] = [measure(width), measure(height)];
  const count = (edge: number, size: number) => Math.min(BLOCKS, Math.max(1, Math.floor(edge / size)));
  const [across, down] = [count(width, w), count(height, h)];
  const made = Buffer.alloc(w * across * h * down * channels);
  const place = (index: number, of: number, edge: number, size: number) =>
    of < 2 ? 0 : Math.max(0, Math.round((index * (edge - size)) / (of - 1)));
  for (let row = 0; row < down; row += 1)
    for (let column = 0; column < across; column += 1)
      for (let line = 0; line < h; line += 1) {
        const y = Math.min(height - 1, place(row, down, height, h) + line);
        const x = place(column, across, width, w);
        const from = (y * width + x) * channels;
        const to = ((row * h + line) * w * across + column * w) * channels;
        data.copy(made, to, from, from + Math.min(w, width - x) * channels);
      }
  return {
    blocks: sharp(made, { raw: { width: w * across, height: h * down, channels: channels as 3 } }),
    share: (w * across * h * down) / (width * height),
  };
}
