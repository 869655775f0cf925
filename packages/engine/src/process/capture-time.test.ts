import { expect, it } from 'vitest';
import { normaliseCaptureTime } from './capture-time.ts';

it.each([
  ['EXIF with an offset', '2026:11:24 10:00:00+01:00', '2026-11-24T10:00:00+01:00'],
  ['EXIF without one, which tells no zone', '2026:11:24 10:00:00', '2026-11-24T10:00:00'],
  ['a phone’s own tag', '2026-11-24T10:00:00+0100', '2026-11-24T10:00:00+01:00'],
  ['UTC of a container', '2026-11-24T10:00:00.000000Z', '2026-11-24T10:00:00Z'],
  ['a zone west of it', '2026-11-24 10:00:00 -05:30', '2026-11-24T10:00:00-05:30'],
  ['a container that was never told', '1904-01-01T00:00:00Z', null],
  ['no such day', '2026:13:45 10:00:00', null],
  ['spaces of a camera without a clock', '    :  :     :  :  ', null],
])('keeps what a file tells of its time: %s', (_name, raw, kept) =>
  expect(normaliseCaptureTime(raw)).toBe(kept),
);
