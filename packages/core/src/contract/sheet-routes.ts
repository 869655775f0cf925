import type { Route } from './route.ts';
import * as schema from './schemas.ts';

/** Photographs laid out together on pages. */
export const sheetRoutes = {
  readSheet: {
    method: 'GET',
    path: '/api/assignments/:assignmentId/sheet',
    access: 'assignment',
    body: null,
    answer: schema.SheetVersion,
    purpose: 'The caller’s sheet for an assignment, as it was kept last.',
  },
  writeSheet: {
    method: 'PUT',
    path: '/api/assignments/:assignmentId/sheet',
    access: 'assignment',
    body: schema.SheetInput,
    answer: schema.SheetVersion,
    purpose: 'Keeps the sheet.',
  },
  makeSheet: {
    method: 'POST',
    path: '/api/assignments/:assignmentId/sheet/make',
    access: 'assignment',
    body: null,
    answer: schema.SheetStarted,
    purpose: 'Lays the sheet out as a PDF, which becomes a take of its own.',
  },
} as const satisfies Record<string, Route>;
