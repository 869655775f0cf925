import { MOST_PAPER_CHARACTERS, PaperInput, PaperText } from './paper-schemas.ts';
import type { Route } from './route.ts';

/** Instructions on paper. */
export const paperRoutes = {
  readPaper: {
    method: 'POST',
    path: '/api/papers',
    access: 'person',
    body: PaperInput,
    // What holds them is next to nothing.
    mostBodyBytes: MOST_PAPER_CHARACTERS + 1000,
    answer: PaperText,
    purpose: 'Reads printed instructions from a PDF, a photograph or a scan; nothing of it is kept.',
  },
} as const satisfies Record<string, Route>;
