import { LEVEL_COLUMN_US, SOUND_BLOCK_US, type Evidence, type TakeSeries } from '@apodix/core';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

type Table = { readonly head: readonly string[]; readonly rows: readonly (readonly (string | number)[])[] };

/**
 * Writes what runs along a file as tables with a header (RFC 4180); gives their paths. Times are
 * microseconds.
 */
export async function writeSeriesFiles(
  folder: string,
  series: TakeSeries,
  evidence: Evidence,
): Promise<string[]> {
  const tables: Readonly<Record<string, Table | null>> = {
    'frames.csv': listFrames(series, evidence),
    'color.csv': listColors(series, evidence),
    'sound.csv': listLevels(evidence),
    'loudness.csv': listBlocks(series),
    'peaks.csv': listPeaks(series),
    'sharpness.csv': listSharpness(series),
  };
  await mkdir(folder, { recursive: true });
  const written: string[] = [];
  for (const [name, table] of Object.entries(tables)) {
    if (!table) continue;
    const path = join(folder, name);
    const lines = [table.head, ...table.rows].map((row) => row.join(','));
    await writeFile(path, `${lines.join('\r\n')}\r\n`);
    written.push(path);
  }
  return written;
}

const round = (value: number, decimals: number) => Number(value.toFixed(decimals));

function listFrames({ frames, keyframesUs }: TakeSeries, { signatures }: Evidence): Table | null {
  if (!frames) return null;
  const keys = new Set(keyframesUs);
  const size = signatures ? signatures.widthPx * signatures.heightPx : 0;
  const rows = frames.timesUs.map((timeUs, index) => {
    let [light, change] = [0, 0];
    for (let point = 0; point < size; point += 1) {
      const here = signatures?.luma[index * size + point] ?? 0;
      light += here;
      change += index === 0 ? 0 : Math.abs(here - (signatures?.luma[(index - 1) * size + point] ?? 0));
    }
    const per = Math.max(1, size);
    return [index, timeUs, keys.has(timeUs) ? 1 : 0, round(light / per, 2), round(change / per, 3)];
  });
  return { head: ['frame', 'time_us', 'is_keyframe', 'brightness', 'movement'], rows };
}

function listColors({ frames }: TakeSeries, { colors }: Evidence): Table | null {
  if (!colors) return null;
  const size = colors.widthPx * colors.heightPx;
  const rows = Array.from(colors.frameIndices, (frame, index) => {
    const sums = [0, 0, 0];
    for (let point = 0; point < size; point += 1)
      for (let band = 0; band < 3; band += 1)
        sums[band] = (sums[band] ?? 0) + (colors.rgb[(index * size + point) * 3 + band] ?? 0);
    return [frame, frames?.timesUs[frame] ?? 0, ...sums.map((sum) => round(sum / size, 2))];
  });
  return { head: ['frame', 'time_us', 'red', 'green', 'blue'], rows };
}

function listLevels({ sound }: Evidence): Table | null {
  if (!sound) return null;
  const rows = Array.from(sound.levelLeft, (left, index) => [
    sound.startUs + index * LEVEL_COLUMN_US,
    -left / 2,
    -(sound.levelRight[index] ?? 255) / 2,
  ]);
  return { head: ['time_us', 'left_dbfs', 'right_dbfs'], rows };
}

function listBlocks({ blocks }: TakeSeries): Table | null {
  if (!blocks) return null;
  const rows = Array.from(blocks.powerLeft, (left, index) => [
    blocks.startUs + index * SOUND_BLOCK_US,
    left,
    blocks.powerRight[index] ?? 0,
    blocks.peak[index] ?? 0,
    blocks.clipped[index] ?? 0,
  ]);
  return { head: ['time_us', 'power_left', 'power_right', 'peak', 'flat_tops'], rows };
}

function listPeaks({ peaks }: TakeSeries): Table | null {
  if (!peaks) return null;
  const rows = peaks.peaks.map((peak, index) => [Math.round((index * 1e6) / peaks.columnsPerSecond), peak]);
  return { head: ['time_us', 'peak'], rows };
}

function listSharpness({ frames, sharpness }: TakeSeries): Table | null {
  if (!sharpness) return null;
  const rows = sharpness.frameIndices.map((frame, index) => {
    const blur = sharpness.blur[index] ?? null;
    return [frame, frames?.timesUs[frame] ?? 0, blur === null ? '' : round(blur, 4)];
  });
  return { head: ['frame', 'time_us', 'blur'], rows };
}
