import { melody, PERFORMANCE_START_S } from '../sounds/marimba-melody.ts';
import { drawLimb, type Scene } from './scene.ts';

const BARS = 17;
const barX = (index: number) => 400 + index * 29;
const barY = (index: number) => 452 - Math.abs(index - 8) * 2.2;

const bars = Array.from({ length: BARS }, (_, index) => {
  const height = 96 - index * 2.4;
  const shade = index % 2 ? '#a5683c' : '#8d5630';
  return `<rect x="${barX(index) - 12}" y="${barY(index) - height / 2}" width="25" height="${height}" rx="3" fill="${shade}"/><rect x="${barX(index) - 7}" y="${barY(index) + 62}" width="13" height="${92 - index * 4}" rx="6" fill="#b8a165"/>`;
}).join('');

const background = `
<defs><radialGradient id="lamp" cx="0.48" cy="0.3" r="0.85"><stop offset="0" stop-color="#b59a6d"/><stop offset="0.5" stop-color="#6e5a40"/><stop offset="1" stop-color="#251c18"/></radialGradient></defs>
<rect width="1280" height="720" fill="url(#lamp)"/>
<rect y="560" width="1280" height="160" fill="#3d271d"/>
${Array.from({ length: 9 }, (_, index) => `<path d="M${index * 150 - 40} 720 L${index * 130 + 80} 560" stroke="#2c1b14" stroke-width="3"/>`).join('')}
<rect x="930" y="120" width="150" height="210" rx="4" fill="#4b4036"/><rect x="944" y="136" width="122" height="178" fill="#8a8172"/><path d="M950 300 l40 -70 l28 40 l24 -34 l22 64z" fill="#5d6b60"/>
<rect x="120" y="90" width="180" height="300" fill="#3f352c"/>${Array.from({ length: 5 }, (_, row) => Array.from({ length: 9 }, (_, book) => `<rect x="${128 + book * 18}" y="${100 + row * 58}" width="14" height="46" fill="${['#7b4a3a', '#44566b', '#8b7a4c', '#4d5f4b'][(row * 7 + book * 3) % 4]}"/>`).join('')).join('')}
<ellipse cx="630" cy="640" rx="330" ry="42" fill="#140e0b" opacity="0.7"/>`;

/** Where both sticks are at an instant, from the notes that sound around it. */
function stickPositions(t: number): [number, number][] {
  return [0, 1].map((hand) => {
    const next =
      melody.find((note) => note.hand === hand && note.atS >= t) ??
      melody.filter((note) => note.hand === hand).at(-1);
    const last = melody.filter((note) => note.hand === hand && note.atS < t).at(-1) ?? next;
    if (!next || !last) return [540 + hand * 180, 420] as [number, number];
    const span = Math.max(0.05, next.atS - last.atS);
    const share = Math.min(1, Math.max(0, (t - last.atS) / span));
    const bar = last.bar + (next.bar - last.bar) * share;
    const lift = Math.sin(Math.PI * share) * Math.min(70, span * 160);
    return [barX(bar), barY(bar) - 34 - lift] as [number, number];
  });
}

/** Someone plays a marimba in a room with one warm lamp: walks up, plays, walks away. */
export const marimbaScene = (durationS: number): Scene => ({
  widthPx: 960,
  heightPx: 540,
  rateHz: 25,
  durationS,
  background,
  movingBox: [320, 140, 960, 480],
  draw: (t) => {
    const finishS = durationS - 5;
    const away =
      t < PERFORMANCE_START_S - 1
        ? (PERFORMANCE_START_S - 1 - t) * 190
        : t > finishS
          ? (t - finishS) * 170
          : 0;
    const sway = Math.sin(t * 1.9) * 7;
    const x = 635 + sway + away;
    const hands: readonly (readonly [number, number])[] =
      away > 60
        ? [
            [x - 60, 430],
            [x + 60, 430],
          ]
        : stickPositions(t);
    const arms = hands.map((hand, side) => {
      const shoulder: [number, number] = [x + (side ? 62 : -62), 318];
      const wrist: [number, number] = [hand[0] + (side ? 44 : -44), hand[1] - 42];
      const stick =
        away > 60
          ? ''
          : `<line x1="${wrist[0]}" y1="${wrist[1]}" x2="${hand[0]}" y2="${hand[1]}" stroke="#e3d6b0" stroke-width="6" stroke-linecap="round"/><circle cx="${hand[0]}" cy="${hand[1]}" r="11" fill="#c0492f"/>`;
      return drawLimb(shoulder, away > 60 ? hand : wrist, side ? 0.3 : -0.3, 26, '#8a5a45') + stick;
    });
    return `<g>
      <path d="M${x - 74} 500 L${x - 66} 330 Q${x} 268 ${x + 66} 330 L${x + 74} 500z" fill="#22384f"/>
      <ellipse cx="${x}" cy="226" rx="41" ry="50" fill="#8d5d47"/><path d="M${x - 48} 248 Q${x - 56} 158 ${x} 162 Q${x + 58} 158 ${x + 46} 262 Q${x + 38} 206 ${x + 18} 198 Q${x - 34} 200 ${x - 48} 248z" fill="#17100f"/>
      <ellipse cx="${x - 13}" cy="232" rx="4" ry="5" fill="#1d1312"/><ellipse cx="${x + 15}" cy="232" rx="4" ry="5" fill="#1d1312"/><path d="M${x - 9} 254 q10 6 20 0" stroke="#5c342a" stroke-width="3" fill="none"/>
      ${bars}${arms.join('')}</g>`;
  },
  shakePx: 3,
  cameraFilters: [
    'eq=brightness=-0.05:gamma=0.86',
    'colorbalance=rm=0.10:bm=-0.14:rh=0.06:bh=-0.10',
    'noise=alls=5:allf=t',
  ],
});
