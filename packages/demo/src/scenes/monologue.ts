import { drawLimb, wander, type Scene } from './scene.ts';

const background = `
<defs><radialGradient id="spot" cx="0.5" cy="0.42" r="0.5"><stop offset="0" stop-color="#8d97a6"/><stop offset="0.45" stop-color="#3a4250"/><stop offset="1" stop-color="#0d0f14"/></radialGradient>
<linearGradient id="curtain" x1="0" x2="1"><stop offset="0" stop-color="#3d1020"/><stop offset="0.5" stop-color="#641a33"/><stop offset="1" stop-color="#32101d"/></linearGradient></defs>
<rect width="1280" height="720" fill="url(#spot)"/>
${Array.from({ length: 5 }, (_, index) => `<rect x="${index * 44 - 10}" width="46" height="640" fill="url(#curtain)"/><rect x="${1280 - index * 44 - 40}" width="46" height="640" fill="url(#curtain)"/>`).join('')}
<path d="M0 610 H1280 V720 H0z" fill="#3a2a20"/>${Array.from({ length: 14 }, (_, index) => `<line x1="${index * 100}" y1="610" x2="${index * 120 - 130}" y2="720" stroke="#271b14" stroke-width="2"/>`).join('')}
<ellipse cx="640" cy="652" rx="270" ry="40" fill="#d8d2c0" opacity="0.28"/>
<rect x="760" y="490" width="96" height="130" fill="#4a3524"/><rect x="752" y="478" width="112" height="16" fill="#5d4430"/><rect x="782" y="450" width="52" height="28" rx="3" fill="#b8ac8f"/>`;

/** One person speaks on a small stage with a ledger on a table; `energy` sets how large the gestures are. */
export const monologueScene = (durationS: number, energy: number): Scene => ({
  widthPx: 960,
  heightPx: 540,
  rateHz: 25,
  durationS,
  background,
  movingBox: [300, 150, 600, 520],
  draw: (t) => {
    const x = 590 + Math.sin(t * 0.45) * 46 * energy;
    const nod = wander(t * 1.6, 3) * 5;
    const mouth = 3 + Math.abs(Math.sin(t * 9.2) * Math.sin(t * 2.3)) * 9;
    const left: [number, number] = [
      x - 120 + wander(t, 1) * 60 * energy,
      400 - (wander(t * 0.8, 5) + 1) * 60 * energy,
    ];
    const right: [number, number] = [
      x + 118 + wander(t, 2) * 50 * energy,
      410 - (wander(t * 0.7, 9) + 1) * 52 * energy,
    ];
    return `<g>
      ${drawLimb([x - 26, 500], [x - 44, 640], -0.05, 40, '#20242e')}${drawLimb([x + 26, 500], [x + 48, 640], 0.05, 40, '#20242e')}
      <path d="M${x - 70} 520 L${x - 58} 318 Q${x} 276 ${x + 58} 318 L${x + 70} 520z" fill="#b1663a"/>
      ${drawLimb([x - 54, 332], left, 0.2, 26, '#b1663a')}${drawLimb([x + 54, 332], right, -0.2, 26, '#b1663a')}
      <circle cx="${left[0]}" cy="${left[1]}" r="16" fill="#5b3a2c"/><circle cx="${right[0]}" cy="${right[1]}" r="16" fill="#5b3a2c"/>
      <g transform="translate(0 ${nod})"><ellipse cx="${x}" cy="232" rx="42" ry="52" fill="#5b3a2c"/><path d="M${x - 46} 222 Q${x - 40} 168 ${x} 172 Q${x + 44} 168 ${x + 46} 222 Q${x} 192 ${x - 46} 222z" fill="#120d0c"/>
      <circle cx="${x - 15}" cy="228" r="4.5" fill="#0d0807"/><circle cx="${x + 15}" cy="228" r="4.5" fill="#0d0807"/><ellipse cx="${x}" cy="259" rx="12" ry="${mouth.toFixed(1)}" fill="#30100f"/></g></g>`;
  },
  shakePx: 2,
  cameraFilters: ['eq=brightness=-0.02:contrast=1.05', 'noise=alls=6:allf=t'],
});
