import { explainPhotoError } from '../photo/open-photo.ts';
import { answerAsChild } from '../process/child-answer.ts';
import { readPaperHere } from './read-paper.ts';

/** One paper in a process of its own: its path as the argument. */
await answerAsChild(() => readPaperHere(process.argv[2] ?? ''), explainPhotoError);
