import { PaperText } from '@apodix/core';
import { z } from 'zod';

export { PaperText };

/** What the process that reads paper answers. */
export const PaperAnswer = z.union([
  z.object({ answer: PaperText }),
  z.object({ fault: z.object({ code: z.string(), trace: z.string().optional() }) }),
]);
