import { readInstructions, type Answers, type ReadLimits } from '@apodix/core';
import { findLocale } from '../../composables/local-dates.ts';
import { readLocalNow } from '../../composables/local-now.ts';

/** Reads instructions by the clock of this device and the order of dates at the school. */
export const readHere = (text: string, answers: Answers = {}): ReadLimits =>
  readInstructions(text, { now: readLocalNow(), locale: findLocale(), answers });
