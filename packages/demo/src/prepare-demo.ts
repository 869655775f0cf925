import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { generateMedia, type OnStep } from './media/generate-media.ts';
import { buildAssignments } from './scenario/assignments.ts';
import { people } from './scenario/people.ts';

/**
 * Lays people, assignments and sample media into a data folder; what is there stays. Gives the folder of the
 * media.
 */
export async function prepareDemo(dataFolder: string, onStep: OnStep): Promise<string> {
  await mkdir(join(dataFolder, 'course-site'), { recursive: true });
  await writeOnce(join(dataFolder, 'people.json'), people);
  await writeOnce(join(dataFolder, 'course-site', 'assignments.json'), buildAssignments(Date.now()));
  return generateMedia(join(dataFolder, 'demo-media'), onStep);
}

async function writeOnce(path: string, value: unknown): Promise<void> {
  if (await stat(path).catch(() => null)) return;
  await writeFile(`${path}.new`, JSON.stringify(value, null, 2));
  await rename(`${path}.new`, path);
}
