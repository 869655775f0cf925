/** What can be asked to be in the picture. */
export const PARTS = ['face', 'hands', 'body'] as const;
export type Part = (typeof PARTS)[number];

const NAMES: Readonly<Record<Part, string>> = {
  face: 'face',
  hands: 'both hands',
  body: 'the whole body',
};

/** A part as it is said: "both hands". */
export const namePart = (part: Part): string => NAMES[part];

/** One letter a look: seen, not seen, there but covered, not sure. */
export type SeenState = 'y' | 'n' | 'c' | 'u';

export interface FaceFound {
  /** Shares of the picture, from the left and from the top. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** 0 to 1. */
  readonly score: number;
}

/** A point of a hand or a body as shares of the picture; may lie outside it. */
export interface FoundPoint {
  readonly x: number;
  readonly y: number;
  /** 0 to 1; 1 where the finder tells none. */
  readonly visibility: number;
}

export interface HandFound {
  /** 21 points, wrist first, then the thumb and the fingers, four each. */
  readonly points: readonly FoundPoint[];
  readonly score: number;
}

/** What finders saw in one picture. */
export interface Look {
  readonly faces: readonly FaceFound[];
  readonly hands: readonly HandFound[];
  /** 33 points of the whole body, nose first; null where nobody was found or nobody looked for one. */
  readonly body: readonly FoundPoint[] | null;
}

const SURE_FACE = 0.6;
const SURE_HAND = 0.6;
const SURE_POINT = 0.6;
const DOUBTFUL_POINT = 0.35;
/** How much of a face has to be inside the picture. */
const FACE_INSIDE = 0.9;
/** Points of a hand that have to be inside, of 21: the tip of one finger may be out. */
const HAND_INSIDE = 19;
const NOSE = 0;
const [LEFT_WRIST, RIGHT_WRIST, LEFT_SHOULDER, RIGHT_SHOULDER] = [15, 16, 11, 12];
/** Below it fingers are a few pixels of the 640 that are looked at. */
const SMALL_HAND = 0.06;
const HAND_BY_SHOULDERS = 0.4;
const BODY_POINTS = [NOSE, 11, 12, 23, 24, 25, 26, 27, 28] as const;

const isInside = ({ x, y }: { x: number; y: number }) => x >= 0 && x <= 1 && y >= 0 && y <= 1;

/** Judges one picture: what of a person is in it. */
export function judgeLook(look: Look): Readonly<Record<Part, SeenState>> {
  return { face: judgeFace(look), hands: judgeHands(look), body: judgeBody(look) };
}

function judgeFace({ faces, body }: Look): SeenState {
  const shares = faces.map(({ x, y, width, height, score }) => {
    const across = Math.max(0, Math.min(1, x + width) - Math.max(0, x));
    const down = Math.max(0, Math.min(1, y + height) - Math.max(0, y));
    return { score, inside: (across * down) / Math.max(1e-9, width * height) };
  });
  if (shares.some(({ score, inside }) => score >= SURE_FACE && inside >= FACE_INSIDE)) return 'y';
  if (shares.length > 0) return 'u';
  // Somebody turned away has a head in the picture, and no face.
  const nose = body?.[NOSE];
  return nose && nose.visibility >= SURE_POINT && isInside(nose) ? 'u' : 'n';
}

function judgeHands({ hands, body }: Look): SeenState {
  const whole = hands.filter(
    ({ points, score }) => score >= SURE_HAND && points.filter(isInside).length >= HAND_INSIDE,
  );
  if (countApart(whole) >= 2) return 'y';
  const wrists = [body?.[LEFT_WRIST], body?.[RIGHT_WRIST]];
  const [inside, outside] = [
    wrists.filter((wrist) => wrist && wrist.visibility >= SURE_POINT && isInside(wrist)).length,
    wrists.filter((wrist) => wrist && !isInside(wrist)).length,
  ];
  if (outside > 0) return 'n';
  // The arms lead into the picture, and hands are not to be seen: something lies before them, or they are
  // too small to be found.
  if (inside === 2) return measureHandWidth(body) < SMALL_HAND ? 'u' : 'c';
  return hands.length >= 2 || inside > 0 ? 'u' : 'n';
}

/** About how wide a hand is, by the shoulders, as a share of the picture. */
function measureHandWidth(body: Look['body']): number {
  const [left, right] = [body?.[LEFT_SHOULDER], body?.[RIGHT_SHOULDER]];
  return left && right ? HAND_BY_SHOULDERS * Math.hypot(left.x - right.x, left.y - right.y) : 0;
}

/** Hands that lie apart: a finder may find the same one twice. */
function countApart(hands: readonly HandFound[]): number {
  const centers: { x: number; y: number; size: number }[] = [];
  for (const { points } of hands) {
    const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)];
    const size = Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
    const center = { x: mean(xs), y: mean(ys), size };
    const isSame = centers.some(
      (other) => Math.hypot(other.x - center.x, other.y - center.y) < 0.3 * Math.min(other.size, size),
    );
    if (!isSame) centers.push(center);
  }
  return centers.length;
}

function judgeBody({ body }: Look): SeenState {
  if (!body) return 'n';
  const points = BODY_POINTS.map((index) => body[index]);
  const isWhole = points.every((point) => point && isInside(point) && point.visibility >= SURE_POINT);
  if (isWhole) return 'y';
  const isOut = points.some((point) => !point || !isInside(point) || point.visibility < DOUBTFUL_POINT);
  return isOut ? 'n' : 'u';
}
