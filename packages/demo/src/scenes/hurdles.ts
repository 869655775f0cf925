import { drawLimb, type Scene } from './scene.ts';

const sky = `<defs><linearGradient id="sky" x2="0" y2="1"><stop offset="0" stop-color="#8fb0c9"/><stop offset="1" stop-color="#d3dde2"/></linearGradient></defs><rect width="1280" height="400" fill="url(#sky)"/>
${Array.from({ length: 22 }, (_, index) => `<circle cx="${index * 62}" cy="${352 - (index % 3) * 14}" r="${42 + (index % 4) * 8}" fill="#4c6b45"/>`).join('')}<rect y="372" width="1280" height="60" fill="#6f8a55"/>`;
const sideTrack = `${sky}<rect y="420" width="1280" height="300" fill="#b4553d"/>${[470, 540, 640].map((y) => `<line x1="0" x2="1280" y1="${y}" y2="${y}" stroke="#efe6dc" stroke-width="4"/>`).join('')}`;
const hurdle = (x: number, y: number, scale: number) =>
  `<g transform="translate(${x} ${y}) scale(${scale})"><path d="M-10 0 V-104 M62 0 V-104" stroke="#e9ecec" stroke-width="9"/><rect x="-18" y="-116" width="88" height="20" fill="#f6f6f2"/><rect x="8" y="-116" width="22" height="20" fill="#22445f"/></g>`;

function drawRunner(x: number, y: number, phase: number, flight: number, scale: number): string {
  const swing = Math.sin(phase);
  const lead: [number, number] =
    flight > 0 ? [96, -6 - flight * 18] : [swing * 62, 92 - Math.max(0, -Math.cos(phase)) * 26];
  const trail: [number, number] =
    flight > 0 ? [-58, 22 + flight * 12] : [-swing * 62, 92 - Math.max(0, Math.cos(phase)) * 26];
  const lean = flight > 0 ? 30 : 12;
  return `<g transform="translate(${x.toFixed(1)} ${y.toFixed(1)}) scale(${scale})">
    ${drawLimb([0, 0], trail, 0.3, 24, '#5f3c2d')}${drawLimb([lean, -88], [lean - swing * 58 + flight * 40, -36], 0.35, 17, '#5f3c2d')}
    <path d="M-16 6 L${lean - 22} -100 Q${lean} -118 ${lean + 24} -98 L18 6z" fill="#1f3d63"/><rect x="-20" y="-6" width="42" height="26" rx="8" fill="#182231"/>
    ${drawLimb([4, 6], lead, -0.24, 26, '#6a4433')}${drawLimb([lean, -88], [lean + swing * 58 + flight * 30, -34], -0.35, 18, '#6a4433')}
    <circle cx="${lean + 10}" cy="-134" r="26" fill="#6a4433"/><path d="M${lean - 16} -138 Q${lean + 4} -172 ${lean + 34} -146 Q${lean + 10} -150 ${lean - 16} -138z" fill="#191210"/></g>`;
}

/** A hurdle run seen from the side: the camera stands, the runner comes through twice over the hurdle. */
export const hurdlesSideScene = (durationS: number): Scene => ({
  widthPx: 960,
  heightPx: 540,
  rateHz: 50,
  durationS,
  background: sideTrack + hurdle(640, 600, 1.25),
  movingBox: [0, 250, 1280, 400],
  draw: (t) => {
    const run = (t % 3.2) / 2.4;
    const x = -120 + run * 1500;
    const near = Math.max(0, 1 - Math.abs(x - 655) / 170);
    const flight = Math.sin((near * Math.PI) / 2);
    return drawRunner(
      x,
      500 - flight * 74 + Math.abs(Math.sin(t * 11)) * 6,
      t * 11,
      near > 0.04 ? flight : 0,
      1.2,
    );
  },
  shakePx: 5,
  cameraFilters: ['noise=alls=4:allf=t'],
});

/** The same run from the front: the runner grows towards the camera. */
export const hurdlesFrontScene = (durationS: number): Scene => ({
  widthPx: 960,
  heightPx: 540,
  rateHz: 50,
  durationS,
  background: `${sky}<path d="M520 420 H760 L1280 720 H0z" fill="#b4553d"/><path d="M600 420 L420 720 M680 420 L860 720" stroke="#efe6dc" stroke-width="5"/>${hurdle(610, 560, 0.9)}`,
  movingBox: [340, 200, 600, 520],
  draw: (t) => {
    const run = (t % 3.2) / 2.6;
    const scale = 0.25 + run * run * 1.2;
    const near = Math.max(0, 1 - Math.abs(scale - 0.72) / 0.14);
    return drawRunner(
      640 + Math.sin(t * 11) * 8,
      430 + run * run * 210 - near * 60,
      t * 11,
      near > 0.1 ? near * 0.4 : 0,
      scale,
    );
  },
  shakePx: 4,
  cameraFilters: ['noise=alls=4:allf=t'],
});
