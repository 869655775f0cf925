import { UNHURRIED, type Probe } from './probe.ts';

export interface CodedPictureProbe extends Probe {
  /** A hash of every coded picture, in the order of showing. */
  readonly finish: () => string[];
}

/**
 * Writes a hash of every coded picture of H.264. Only slices count (ITU-R H.264 table 7-1, types 1 to 5):
 * parameter sets and notes may stand elsewhere.
 */
export const hashArgs: readonly string[] = [
  ...['-c', 'copy', '-bsf:v', 'h264_mp4toannexb,filter_units=pass_types=1-5'],
  ...UNHURRIED,
  ...['-f', 'framehash', '-hash', 'md5'],
];

/** Collects what `framehash` writes. */
export class CodedPictureList {
  readonly #rows: { time: number; hash: string }[] = [];

  addLine(line: string): void {
    if (line.startsWith('#') || line.trim() === '') return;
    const fields = line.split(',').map((field) => field.trim());
    this.#rows.push({ time: Number(fields[2]), hash: fields.at(-1) ?? '' });
  }

  finish(): string[] {
    return this.#rows.sort((left, right) => left.time - right.time).map((row) => row.hash);
  }
}

/** Hashes the pictures as they are coded while the same program decodes them. */
export function probeCodedPictures(): CodedPictureProbe {
  const list = new CodedPictureList();
  let rest = '';
  return {
    takes: 'coded-picture',
    buildChains: () => [],
    outputs: [
      {
        pad: null,
        args: hashArgs,
        onData: (data) => {
          const lines = (rest + data.toString('latin1')).split('\n');
          rest = lines.pop() ?? '';
          lines.forEach((line) => list.addLine(line));
        },
      },
    ],
    finish: () => {
      list.addLine(rest);
      return list.finish();
    },
  };
}
