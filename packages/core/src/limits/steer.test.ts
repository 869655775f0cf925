import { describe, expect, it } from 'vitest';
import { Limit } from './limit.ts';
import { readCeilings } from './steer.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const video = (...raw: Record<string, unknown>[]) => readCeilings(limits(...raw), 'video');

describe('readCeilings', () => {
  it('leaves everything open where nothing is said', () => {
    expect(video()).toMatchObject({
      maxBytes: null,
      minUs: null,
      maxUs: null,
      size: {},
      floors: { widthPx: 0, heightPx: 0, longEdgePx: 0, shortEdgePx: 0 },
      maxFrameRate: null,
      wantedContainers: null,
      refusedContainers: [],
      channels: null,
      loudness: null,
      maxPeakDbtp: null,
      isSoundWanted: null,
      namePattern: null,
    });
  });

  it('takes the tightest of several, must and should alike', () => {
    expect(
      video(
        { kind: 'file-size', maxBytes: 9_000_000 },
        { kind: 'file-size', maxBytes: 7_000_000, severity: 'should' },
        { kind: 'total-size', maxBytes: 8_000_000 },
      ).maxBytes,
    ).toBe(7_000_000);
    expect(
      video(
        { kind: 'length', minUs: 10_000_000, maxUs: 60_000_000 },
        { kind: 'length', minUs: 20_000_000, maxUs: 90_000_000 },
      ),
    ).toMatchObject({ minUs: 20_000_000, maxUs: 60_000_000 });
    expect(
      video(
        { kind: 'picture-edge', edge: 'lines', max: 1080, min: 480 },
        { kind: 'picture-edge', edge: 'short', max: 720 },
        { kind: 'picture-edge', edge: 'width', max: 1600 },
      ),
    ).toMatchObject({ size: { shortEdgePx: 720, widthPx: 1600 }, floors: { shortEdgePx: 480 } });
  });

  it('gives a tenth more on both sides where a length is only about right', () => {
    expect(video({ kind: 'length', minUs: 60_000_000, maxUs: 120_000_000, isAbout: true })).toMatchObject({
      minUs: 54_000_000,
      maxUs: 132_000_000,
    });
  });

  it('takes what all lists of formats have in common', () => {
    expect(
      video(
        { kind: 'format', wanted: ['mp4', 'mov'] },
        { kind: 'format', wanted: ['mov', 'webm'] },
        { kind: 'format', refused: ['avi'] },
      ),
    ).toMatchObject({ wantedContainers: ['mov'], refusedContainers: ['avi'] });
    expect(
      video({ kind: 'format', wanted: ['mp4'] }, { kind: 'format', wanted: ['webm'] }).wantedContainers,
    ).toEqual([]);
    expect(video({ kind: 'format', refused: ['avi'] }).wantedContainers).toBeNull();
  });

  it('hears nothing of what is said of other files', () => {
    expect(
      video(
        { kind: 'file-size', maxBytes: 1_000_000, appliesTo: 'photo' },
        { kind: 'format', wanted: ['jpeg'], appliesTo: 'photo' },
      ),
    ).toMatchObject({ maxBytes: null, wantedContainers: null });
  });

  it('no clipping is a true peak just below full scale, unless a lower one is asked for', () => {
    expect(video({ kind: 'no-clipping' }).maxPeakDbtp).toBe(-0.1);
    expect(video({ kind: 'no-clipping' }, { kind: 'true-peak', maxDbtp: -1 }).maxPeakDbtp).toBe(-1);
  });

  it('pictures go into a document only where nothing else would take them', () => {
    const photo = (...raw: Record<string, unknown>[]) =>
      readCeilings(limits(...raw), 'photo').wantedContainers;
    expect(photo({ kind: 'format', wanted: ['pdf'], appliesTo: 'document' })).toEqual(['pdf']);
    expect(
      photo(
        { kind: 'format', wanted: ['pdf'], appliesTo: 'document' },
        { kind: 'format', wanted: ['jpeg'], appliesTo: 'photo' },
      ),
    ).toEqual(['jpeg']);
  });
});
