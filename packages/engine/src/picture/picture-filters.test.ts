import type { VideoFacts } from '@apodix/core';
import { execa } from 'execa';
import { describe, expect, it } from 'vitest';
import { buildInputArgs } from '../process/input-args.ts';
import { buildPictureFilters } from './picture-filters.ts';

const video = (changes: Partial<VideoFacts> = {}): VideoFacts => ({
  streamIndex: 0,
  codec: 'h264',
  profile: 'High',
  level: '4.0',
  pixelFormat: 'yuv420p',
  bitDepth: 8,
  chroma: '4:2:0',
  codedWidthPx: 640,
  codedHeightPx: 480,
  widthPx: 640,
  heightPx: 480,
  pixelAspect: { numerator: 1, denominator: 1 },
  rotationDegrees: 0,
  frameCount: 25,
  frameRate: { numerator: 25, denominator: 1 },
  rateKind: 'constant',
  startUs: 0,
  durationUs: 1_000_000,
  color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
  hdr: null,
  interlace: 'progressive',
  bitrateBps: 1_000_000,
  ...changes,
});

/**
 * Red, green and blue of a field of one color, coded in the given way, after the filters, read as BT.709 in
 * limited range.
 */
async function convert(
  color: string,
  source: VideoFacts,
  options = { isFast: false },
  told = source,
): Promise<number[]> {
  const matrix = source.color.matrix === 'smpte170m' || source.color.matrix === null ? 'bt601' : 'bt709';
  const range = source.color.range === 'full' ? 'pc' : 'tv';
  const filters = buildPictureFilters(told, { widthPx: 320, heightPx: 240 }, options).join(',');
  const { stdout } = await execa(
    'ffmpeg',
    [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      `color=${color}:s=640x480:d=0.04,format=rgb24,scale=out_color_matrix=${matrix}:out_range=${range},format=yuv420p`,
      '-vf',
      `${filters},scale=in_color_matrix=bt709:in_range=tv:flags=accurate_rnd+full_chroma_int,format=rgb24`,
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-',
    ],
    { encoding: 'buffer' },
  );
  expect(stdout).toHaveLength(320 * 240 * 3);
  const middle = (120 * 320 + 160) * 3;
  return [...stdout.subarray(middle, middle + 3)];
}
const isNear = (seen: readonly number[], wanted: readonly number[]) =>
  seen.every((value, index) => Math.abs(value - (wanted[index] ?? -99)) <= 3);

it('brings Display P3 to BT.709', async () => {
  const source = video({
    color: { primaries: 'smpte432', transfer: 'bt709', matrix: 'bt709', range: 'limited' },
  });
  const [red, green, blue] = [200, 120, 90];
  const made = await convert('0xC8785A', source);
  // Linear Display P3 to linear sRGB as W3C CSS Color 4 gives it; a standard display has a gamma of 2.4.
  const light = [red, green, blue].map((level) => (level / 255) ** 2.4);
  const wanted = [
    [1.2249401762805598, -0.22494017628055996, 0],
    [-0.042056954709688163, 1.0420569547096881, 0],
    [-0.019637554590334432, -0.078636045550631889, 1.0982736001409663],
  ].map((row) => 255 * row.reduce((sum, each, at) => sum + each * (light[at] ?? 0), 0) ** (1 / 2.4));
  for (const [index, level] of made.entries()) expect(Math.abs(level - (wanted[index] ?? 0))).toBeLessThan(3);
  expect(Math.abs((made[0] ?? 0) - red)).toBeGreaterThan(6);
});

describe('colors come out as they went in', () => {
  const color = [200, 60, 30];
  const hex = '0xC83C1E';
  it('from BT.709', async () => expect(isNear(await convert(hex, video()), color)).toBe(true));
  it('from BT.601, said or meant: small pictures that say nothing are BT.601', async () => {
    expect(
      isNear(
        await convert(
          hex,
          video({
            color: { primaries: 'smpte170m', transfer: 'smpte170m', matrix: 'smpte170m', range: 'limited' },
          }),
        ),
        color,
      ),
    ).toBe(true);
    expect(
      isNear(
        await convert(hex, video({ color: { primaries: null, transfer: null, matrix: null, range: null } })),
        color,
      ),
    ).toBe(true);
    expect(
      isNear(
        await convert(hex, video({ color: { primaries: null, transfer: null, matrix: null, range: null } }), {
          isFast: true,
        }),
        color,
      ),
    ).toBe(true);
  });
  it('from full range', async () =>
    expect(
      isNear(
        await convert(
          hex,
          video({ color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'full' } }),
        ),
        color,
      ),
    ).toBe(true));
  it('taking one for the other would show: the test can fail', async () => {
    const full = video({ color: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'full' } });
    expect(isNear(await convert(hex, full, { isFast: false }, video()), color)).toBe(false);
  });
});

describe('bright-range pictures', () => {
  const hlg = {
    primaries: 'bt2020',
    transfer: 'arib-std-b67',
    matrix: 'bt2020nc',
    range: 'limited',
  } as const;
  it('are scaled before they are converted: five times as fast', () => {
    const filters = buildPictureFilters(
      video({ hdr: 'hlg', bitDepth: 10, color: hlg }),
      { widthPx: 320, heightPx: 240 },
      { isFast: false },
    );
    expect(filters.findIndex((each) => each.startsWith('zscale=w=320'))).toBeLessThan(
      filters.findIndex((each) => each.startsWith('tonemap')),
    );
  });
  it('keep gray gray, and reference white bright without clipping it', async () => {
    const filters = buildPictureFilters(
      video({ hdr: 'hlg', bitDepth: 10, color: hlg }),
      { widthPx: 64, heightPx: 64 },
      { isFast: false },
    ).join(',');
    const read = async (luma: number) => {
      const { stdout } = await execa(
        'ffmpeg',
        [
          '-v',
          'error',
          '-f',
          'lavfi',
          '-i',
          `color=black:s=64x64:d=0.04,format=yuv420p10le,geq=lum=${luma}:cb=512:cr=512`,
          '-vf',
          `setparams=color_primaries=bt2020:color_trc=arib-std-b67:colorspace=bt2020nc:range=tv,${filters},format=yuv444p`,
          '-frames:v',
          '1',
          '-f',
          'rawvideo',
          '-',
        ],
        { encoding: 'buffer' },
      );
      return [stdout[0] ?? 0, stdout[64 * 64] ?? 0, stdout[2 * 64 * 64] ?? 0];
    };
    // ITU-R BT.2408: HLG reference white is 75 % of the signal, 64 + 0.75 · 876 = 721.
    const [black, gray, white] = [await read(64), await read(400), await read(721)];
    for (const [, cb = 0, cr = 0] of [black, gray, white])
      expect(Math.max(Math.abs(cb - 128), Math.abs(cr - 128))).toBeLessThanOrEqual(2);
    expect(black[0]).toBeLessThanOrEqual(18);
    expect(gray[0]).toBeGreaterThan((black[0] ?? 0) + 30);
    expect(white[0]).toBeGreaterThan(150);
    expect(white[0]).toBeLessThan(235);
  });
});

describe('foreign files', () => {
  it('cannot be read as options or protocols, and no other demuxer is tried', () => {
    expect(buildInputArgs('/x/-i http:evil.mp4', 'mp4')).toEqual([
      '-protocol_whitelist',
      'file,pipe',
      '-f',
      'mov',
      '-i',
      'file:/x/-i http:evil.mp4',
    ]);
    expect(buildInputArgs('concat:a|b', 'wav').at(-1)).toMatch(/^file:\/.*concat:a\|b$/);
    expect(() => buildInputArgs('/x/a.jpg', 'jpeg')).toThrow(TypeError);
  });
});
