import { explainPhotoError } from '../photo/open-photo.ts';
import { readPaperHere } from './read-paper.ts';

/** One paper in a process of its own: its path as the argument, the answer on stdout as JSON. */
try {
  process.stdout.write(JSON.stringify({ answer: await readPaperHere(process.argv[2] ?? '') }));
} catch (error) {
  const { code, cause } = explainPhotoError(error);
  const trace = cause instanceof Error ? cause.message : undefined;
  process.stdout.write(JSON.stringify({ fault: { code, trace } }));
}
