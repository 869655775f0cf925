import type { Guide } from '@apodix/core';

type Draw = (canvas: CanvasRenderingContext2D, width: number, height: number, seconds: number) => void;

const SKIN = '#b07a58';
const HAIR = '#2a1d18';

function drawRoom(canvas: CanvasRenderingContext2D, width: number, height: number): void {
  const wall = canvas.createLinearGradient(0, 0, 0, height);
  wall.addColorStop(0, '#8d8271');
  wall.addColorStop(0.7, '#7a6f60');
  wall.addColorStop(0.71, '#55483b');
  wall.addColorStop(1, '#463a2f');
  canvas.fillStyle = wall;
  canvas.fillRect(0, 0, width, height);
  canvas.fillStyle = '#9fb0b4';
  canvas.fillRect(width * 0.06, height * 0.1, width * 0.16, height * 0.3);
}

function disc(canvas: CanvasRenderingContext2D, x: number, y: number, radius: number, color: string): void {
  canvas.fillStyle = color;
  canvas.beginPath();
  canvas.arc(x, y, radius, 0, 2 * Math.PI);
  canvas.fill();
}

function limb(
  canvas: CanvasRenderingContext2D,
  points: readonly (readonly [number, number])[],
  width: number,
  color: string,
): void {
  canvas.strokeStyle = color;
  canvas.lineWidth = width;
  canvas.lineCap = 'round';
  canvas.lineJoin = 'round';
  canvas.beginPath();
  points.forEach(([x, y], index) => (index === 0 ? canvas.moveTo(x, y) : canvas.lineTo(x, y)));
  canvas.stroke();
}

function drawHead(canvas: CanvasRenderingContext2D, x: number, y: number, size: number): void {
  disc(canvas, x, y - size * 0.15, size * 1.05, HAIR);
  canvas.fillStyle = SKIN;
  canvas.beginPath();
  canvas.ellipse(x, y, size * 0.78, size, 0, 0, 2 * Math.PI);
  canvas.fill();
  for (const side of [-1, 1]) {
    disc(canvas, x + side * size * 0.3, y - size * 0.1, size * 0.13, '#f3efe8');
    disc(canvas, x + side * size * 0.3, y - size * 0.1, size * 0.07, '#21160f');
    limb(
      canvas,
      [
        [x + side * size * 0.16, y - size * 0.32],
        [x + side * size * 0.46, y - size * 0.34],
      ],
      size * 0.07,
      HAIR,
    );
  }
  limb(
    canvas,
    [
      [x, y - size * 0.05],
      [x - size * 0.06, y + size * 0.25],
      [x + size * 0.06, y + size * 0.27],
    ],
    size * 0.05,
    '#8f5d42',
  );
  limb(
    canvas,
    [
      [x - size * 0.24, y + size * 0.52],
      [x, y + size * 0.58],
      [x + size * 0.24, y + size * 0.52],
    ],
    size * 0.08,
    '#7d3b33',
  );
}

/** A marimba player, mallets up and down. */
const drawMusician: Draw = (canvas, width, height, seconds) => {
  drawRoom(canvas, width, height);
  const unit = height / 720;
  const [middle, shoulder] = [width / 2, height * 0.46];
  limb(
    canvas,
    [
      [middle, shoulder],
      [middle, height * 0.8],
    ],
    190 * unit,
    '#2b4a5a',
  );
  drawHead(canvas, middle, height * 0.26, 82 * unit);
  for (const side of [-1, 1]) {
    const beat = Math.sin(seconds * 5 + (side > 0 ? 0 : Math.PI));
    const handY = height * (0.62 - 0.03 * beat);
    const handX = middle + side * (150 + 18 * beat) * unit;
    limb(
      canvas,
      [
        [middle + side * 85 * unit, shoulder],
        [middle + side * 170 * unit, height * 0.56],
        [handX, handY],
      ],
      40 * unit,
      '#2b4a5a',
    );
    disc(canvas, handX, handY, 25 * unit, SKIN);
    const tip: [number, number] = [handX - side * 40 * unit, height * (0.74 - 0.08 * Math.max(0, beat))];
    limb(canvas, [[handX, handY], tip], 6 * unit, '#d9c9a3');
    disc(canvas, tip[0], tip[1], 13 * unit, '#8a3b2a');
  }
  for (let bar = 0; bar < 15; bar += 1) {
    canvas.fillStyle = bar % 2 ? '#7d4a28' : '#8b5631';
    canvas.fillRect(middle + (bar - 7.5) * 48 * unit, height * 0.75, 42 * unit, height * 0.12);
  }
};

/** A print on a table, or held up. */
const drawPiece: Draw = (canvas, width, height, seconds) => {
  drawRoom(canvas, width, height);
  const [x, y] = [width / 2 + 4 * Math.sin(seconds), height / 2];
  const [w, h] = [height * 0.58, height * 0.42];
  canvas.save();
  canvas.translate(x, y);
  canvas.rotate(0.03);
  canvas.fillStyle = '#e9e4d6';
  canvas.fillRect(-w, -h, 2 * w, 2 * h);
  canvas.fillStyle = '#27414f';
  for (let wave = 0; wave < 5; wave += 1)
    canvas.fillRect(-w * 0.8, -h * 0.6 + wave * h * 0.26, w * (1.2 + 0.08 * wave), h * 0.12);
  disc(canvas, w * 0.45, -h * 0.35, h * 0.22, '#b4552d');
  canvas.restore();
};

/** Somebody from head to feet. */
const drawActor: Draw = (canvas, width, height, seconds) => {
  drawRoom(canvas, width, height);
  const unit = height / 720;
  const x = width / 2 + 60 * unit * Math.sin(seconds * 0.7);
  const swing = Math.sin(seconds * 1.4);
  limb(
    canvas,
    [
      [x, height * 0.3],
      [x, height * 0.56],
    ],
    95 * unit,
    '#5a3340',
  );
  for (const side of [-1, 1]) {
    limb(
      canvas,
      [
        [x + side * 25 * unit, height * 0.58],
        [x + side * (34 + 8 * swing) * unit, height * 0.75],
        [x + side * 42 * unit, height * 0.9],
      ],
      36 * unit,
      '#33363f',
    );
    limb(
      canvas,
      [
        [x + side * 48 * unit, height * 0.31],
        [x + side * 105 * unit, height * (0.4 - 0.05 * swing * side)],
        [x + side * 130 * unit, height * (0.46 - 0.12 * swing * side)],
      ],
      26 * unit,
      '#5a3340',
    );
    disc(canvas, x + side * 130 * unit, height * (0.46 - 0.12 * swing * side), 17 * unit, SKIN);
  }
  drawHead(canvas, x, height * 0.17, 50 * unit);
};

/** Somebody who runs across and jumps, again and again. */
const drawRunner: Draw = (canvas, width, height, seconds) => {
  drawRoom(canvas, width, height);
  const unit = height / 720;
  const share = (seconds % 4) / 4;
  const x = width * (0.08 + 0.84 * share);
  const lift = Math.max(0, 1 - ((share - 0.5) / 0.14) ** 2) * 120 * unit;
  const step = Math.sin(seconds * 12);
  const y = height * 0.6 - lift;
  canvas.fillStyle = '#d8c25a';
  canvas.fillRect(width * 0.5 - 5 * unit, height * 0.72, 10 * unit, height * 0.16);
  limb(
    canvas,
    [
      [x, y - 110 * unit],
      [x - 12 * unit, y + 30 * unit],
    ],
    66 * unit,
    '#3a6b4f',
  );
  for (const side of [-1, 1])
    limb(
      canvas,
      [
        [x - 12 * unit, y + 40 * unit],
        [x + side * step * 60 * unit, y + 110 * unit],
        [x + side * step * 95 * unit - 20 * unit, y + 190 * unit],
      ],
      30 * unit,
      '#22262c',
    );
  drawHead(canvas, x + 8 * unit, y - 160 * unit, 38 * unit);
};

const drawings: Readonly<Record<Guide['id'], Draw>> = {
  music: drawMusician,
  art: drawPiece,
  drama: drawActor,
  pe: drawRunner,
  plain: drawMusician,
};

/** One moment of the practice performer. */
export function drawPerformer(canvas: CanvasRenderingContext2D, id: Guide['id'], seconds: number): void {
  const { width, height } = canvas.canvas;
  drawings[id](canvas, width, height, seconds);
}
