import { evenPicture, readColorTable, type ColorTable, type GainMap } from '@apodix/core';
import type { ShownPicture } from './shown-picture.ts';
import { buildPlaneMatrix, type PlaneLayout, type Planes } from './read-planes.ts';

/** What a painter shows beside the colors themselves. */
export interface PaintOptions {
  /** Places at full white and full black are marked. */
  readonly isMarked: boolean;
  /** Factor by which the lens bent what is straight: it is undone. */
  readonly lens: number;
}

/** Draws a picture through a table onto a canvas. */
export interface TablePainter {
  setTable(table: ColorTable): void;
  /** What light is multiplied by before that, over the whole picture; null for nothing. */
  setGains(gains: GainMap | null): void;
  /** Whether it can draw planes; else it wants the video itself. */
  readonly wantsPlanes: boolean;
  draw(source: ShownPicture | Planes, options: PaintOptions): void;
  close(): void;
}

/** Signal at which a side is cut off, and below which nothing is left. */
export const FULL = { white: 254.5 / 255, black: 0.5 / 255 } as const;
const MARKS = { white: [0.86, 0.2, 0.16], black: [0.15, 0.42, 0.86] } as const;

const VERTEX = `#version 300 es
out vec2 place;
void main() {
  vec2 corner = vec2(float((gl_VertexID << 1) & 2), float(gl_VertexID & 2));
  place = vec2(corner.x, 1.0 - corner.y);
  gl_Position = vec4(corner * 2.0 - 1.0, 0.0, 1.0);
}`;

/** Tetrahedra, as the maker reads the table: along the largest step first. */
const FRAGMENT = `#version 300 es
precision highp float;
precision highp sampler3D;
in vec2 place;
uniform sampler2D picture;
uniform sampler2D blue;
uniform sampler2D red;
uniform mat3 toRgb;
uniform vec3 less;
uniform bool isPlanes;
uniform sampler3D colors;
uniform int edge;
uniform bool isMarked;
uniform sampler2D gains;
uniform float gainEdge;
uniform vec3 lens;
out vec4 shown;
void main() {
  vec2 off = (place - 0.5) * lens.yz;
  vec2 from = 0.5 + (place - 0.5) * (1.0 + lens.x * 4.0 * dot(off, off) / dot(lens.yz, lens.yz));
  vec3 seen = texture(picture, from).rgb;
  if (isPlanes) seen = toRgb * (vec3(seen.r, texture(blue, from).r, texture(red, from).r) - less);
  if (gainEdge > 0.0) {
    vec3 low = clamp(seen, 0.0, 1.0);
    vec3 light = mix(low / 12.92, pow((low + 0.055) / 1.055, vec3(2.4)), step(0.04045, low));
    light *= texture(gains, (from * (gainEdge - 1.0) + 0.5) / gainEdge).rgb;
    light = min(light, 1.0);
    seen = mix(light * 12.92, 1.055 * pow(light, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, light));
  }
  vec3 at = clamp(seen, 0.0, 1.0) * float(edge - 1);
  ivec3 base = min(ivec3(at), ivec3(edge - 2));
  vec3 f = at - vec3(base);
  ivec3 first = f.r >= f.g && f.r >= f.b ? ivec3(1, 0, 0) : f.g >= f.b ? ivec3(0, 1, 0) : ivec3(0, 0, 1);
  ivec3 last = f.b <= f.g && f.b <= f.r ? ivec3(0, 0, 1) : f.g <= f.r ? ivec3(0, 1, 0) : ivec3(1, 0, 0);
  float high = max(f.r, max(f.g, f.b));
  float low = min(f.r, min(f.g, f.b));
  float middle = f.r + f.g + f.b - high - low;
  vec3 c0 = texelFetch(colors, base, 0).rgb;
  vec3 c1 = texelFetch(colors, base + first, 0).rgb;
  vec3 c2 = texelFetch(colors, base + ivec3(1) - last, 0).rgb;
  vec3 c3 = texelFetch(colors, base + ivec3(1), 0).rgb;
  vec3 made = c0 * (1.0 - high) + c1 * (high - middle) + c2 * (middle - low) + c3 * low;
  if (isMarked) {
    float weakest = min(made.r, min(made.g, made.b));
    float strongest = max(made.r, max(made.g, made.b));
    if (weakest >= ${FULL.white.toFixed(6)}) made = vec3(${MARKS.white.join(', ')});
    if (strongest <= ${FULL.black.toFixed(6)}) made = vec3(${MARKS.black.join(', ')});
  }
  shown = vec4(made, 1.0);
}`;

/**
 * A painter on the graphics card, or by the processor where there is none: that one leaves what a lens bent
 * as it is.
 */
export function createTablePainter(canvas: HTMLCanvasElement): TablePainter {
  const gl = canvas.getContext('webgl2', { preserveDrawingBuffer: true, alpha: false, antialias: false });
  return (gl && createCardPainter(canvas, gl)) ?? createPlainPainter(canvas);
}

function createCardPainter(canvas: HTMLCanvasElement, gl: WebGL2RenderingContext): TablePainter | null {
  const program = buildProgram(gl);
  if (!program) return null;
  gl.useProgram(program);
  const place = (name: string) => gl.getUniformLocation(program, name);
  const textures = ['picture', 'colors', 'blue', 'red', 'gains'].map((name, unit) => {
    gl.uniform1i(place(name), unit);
    return gl.createTexture();
  });
  const [edgePlace, markPlace, planesPlace] = [place('edge'), place('isMarked'), place('isPlanes')];
  const [gainPlace, lensPlace] = [place('gainEdge'), place('lens')];
  const [matrixPlace, lessPlace] = [place('toRgb'), place('less')];
  gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
  /** Makes one of the flat textures the one that is worked on. */
  const choose = (unit: number) => {
    gl.activeTexture(gl.TEXTURE0 + unit);
    gl.bindTexture(gl.TEXTURE_2D, textures[unit] ?? null);
  };
  for (const unit of [0, 2, 3, 4]) {
    choose(unit);
    for (const wrap of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T])
      gl.texParameteri(gl.TEXTURE_2D, wrap, gl.CLAMP_TO_EDGE);
    for (const filter of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
      gl.texParameteri(gl.TEXTURE_2D, filter, gl.LINEAR);
  }
  function loadPlane(unit: number, planes: Planes, layout: PlaneLayout, half: 1 | 2): void {
    const [w, h] = [Math.ceil(planes.widthPx / half), Math.ceil(planes.heightPx / half)];
    choose(unit);
    gl.pixelStorei(gl.UNPACK_ROW_LENGTH, layout.stride);
    const bytes = planes.data.subarray(layout.offset);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.R8, w, h, 0, gl.RED, gl.UNSIGNED_BYTE, bytes);
    gl.pixelStorei(gl.UNPACK_ROW_LENGTH, 0);
  }
  return {
    wantsPlanes: true,
    setTable({ edge, values }) {
      gl.activeTexture(gl.TEXTURE1);
      gl.bindTexture(gl.TEXTURE_3D, textures[1] ?? null);
      for (const filter of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
        gl.texParameteri(gl.TEXTURE_3D, filter, gl.NEAREST);
      gl.texImage3D(gl.TEXTURE_3D, 0, gl.RGB32F, edge, edge, edge, 0, gl.RGB, gl.FLOAT, values);
      gl.uniform1i(edgePlace, edge);
    },
    setGains(gains) {
      gl.uniform1f(gainPlace, gains?.columns ?? 0);
      if (!gains) return;
      choose(4);
      const { columns, rows, values } = gains;
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGB16F, columns, rows, 0, gl.RGB, gl.FLOAT, values);
    },
    draw(source, { isMarked, lens }) {
      if (source instanceof HTMLElement) {
        choose(0);
        gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, source);
      } else {
        loadPlane(0, source, source.luma, 1);
        loadPlane(2, source, source.blue, 2);
        loadPlane(3, source, source.red, 2);
        const { columns, less } = buildPlaneMatrix(source);
        gl.uniformMatrix3fv(matrixPlace, false, columns);
        gl.uniform3fv(lessPlace, less);
      }
      gl.uniform1i(planesPlace, source instanceof HTMLElement ? 0 : 1);
      gl.uniform1i(markPlace, isMarked ? 1 : 0);
      gl.uniform3f(lensPlace, lens, canvas.width, canvas.height);
      gl.viewport(0, 0, canvas.width, canvas.height);
      gl.drawArrays(gl.TRIANGLES, 0, 3);
    },
    close: () => gl.getExtension('WEBGL_lose_context')?.loseContext(),
  };
}

function buildProgram(gl: WebGL2RenderingContext): WebGLProgram | null {
  const program = gl.createProgram();
  for (const [type, text] of [
    [gl.VERTEX_SHADER, VERTEX],
    [gl.FRAGMENT_SHADER, FRAGMENT],
  ] as const) {
    const shader = gl.createShader(type);
    if (!shader) return null;
    gl.shaderSource(shader, text);
    gl.compileShader(shader);
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  return gl.getProgramParameter(program, gl.LINK_STATUS) ? program : null;
}

/** Longer edge that the processor paints at: about ten pictures a second. */
const PLAIN_EDGE = 480;

function createPlainPainter(canvas: HTMLCanvasElement): TablePainter {
  let table: ColorTable | null = null;
  let lit: GainMap | null = null;
  return {
    wantsPlanes: false,
    setGains: (next) => (lit = next),
    setTable: (next) => (table = next),
    draw(source, { isMarked }) {
      const shrink = Math.min(1, PLAIN_EDGE / Math.max(canvas.width, canvas.height));
      canvas.width = Math.round(canvas.width * shrink);
      canvas.height = Math.round(canvas.height * shrink);
      const context = canvas.getContext('2d', { willReadFrequently: true });
      if (!context || !table || !(source instanceof HTMLElement)) return;
      context.drawImage(source, 0, 0, canvas.width, canvas.height);
      const pixels = context.getImageData(0, 0, canvas.width, canvas.height);
      const size = { widthPx: canvas.width, heightPx: canvas.height };
      if (lit) pixels.data.set(evenPicture(pixels.data, size, lit, 4));
      paintPixels(pixels.data, table, isMarked);
      context.putImageData(pixels, 0, 0);
    },
    close: () => undefined,
  };
}

/** Eight-bit R, G, B, A through a table, in place. */
export function paintPixels(data: Uint8ClampedArray, table: ColorTable, isMarked: boolean): void {
  const out = [0, 0, 0];
  for (let at = 0; at < data.length; at += 4) {
    readColorTable(table, (data[at] ?? 0) / 255, (data[at + 1] ?? 0) / 255, (data[at + 2] ?? 0) / 255, out);
    const mark = !isMarked
      ? null
      : Math.min(...out) >= FULL.white
        ? MARKS.white
        : Math.max(...out) <= FULL.black
          ? MARKS.black
          : null;
    for (let side = 0; side < 3; side += 1) data[at + side] = 255 * ((mark ?? out)[side] ?? 0);
  }
}
