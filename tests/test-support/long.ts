import { it } from 'vitest';

/** Whether long sets run too: `npm run bench -- long-tests` runs them, `npm test` the short ones. */
export const isLong = process.env['APODIX_LONG_TESTS'] === '1';
/** A test of a long set. */
export const itLong = it.skipIf(!isLong);
