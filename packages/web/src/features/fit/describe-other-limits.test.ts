import { Limit, type VideoFacts } from '@apodix/core';
import { expect, it } from 'vitest';
import { describeOtherLimits } from './describe-other-limits.ts';

const limits = (...raw: Record<string, unknown>[]) =>
  raw.map((each, index) => Limit.parse({ id: `l${index}`, ...each }));
const video = { widthPx: 1920, heightPx: 1080, frameRate: { numerator: 60, denominator: 1 } } as VideoFacts;

it('tells what lines, frames and coding other limits leave', () => {
  expect(
    describeOtherLimits(
      limits(
        { kind: 'picture-edge', edge: 'lines', min: 480, max: 720 },
        { kind: 'frame-rate', max: 30 },
        { kind: 'video-codec', wanted: ['hevc'] },
      ),
      video,
    ),
  ).toEqual([
    'at most 720 lines are allowed; the recording has 1080',
    'fewer than 480 lines are not allowed',
    'at most 30 pictures a second are allowed; the recording has 60',
    'HEVC is asked for; its sizes are not tried beforehand',
  ]);
});

it('turns a limit on the long edge into lines, and is silent where nothing is changed', () => {
  expect(describeOtherLimits(limits({ kind: 'picture-edge', edge: 'long', max: 1280 }), video)).toEqual([
    'at most 720 lines are allowed; the recording has 1080',
  ]);
  expect(
    describeOtherLimits(
      limits({ kind: 'file-size', maxBytes: 5_000_000 }, { kind: 'picture-edge', edge: 'lines', max: 1080 }),
      video,
    ),
  ).toEqual([]);
});
