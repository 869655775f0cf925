import { availableParallelism } from 'node:os';
import { z } from 'zod';

const isLocale = (tag: string) => {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
};

/** Every setting is an environment variable; docs/settings.md lists them, and a test holds both together. */
export const ServerSettings = z
  .object({
    APODIX_DATA: z.string().min(1).default('./data'),
    APODIX_HOST: z.string().min(1).default('127.0.0.1'),
    APODIX_PORT: z.coerce.number().int().min(0).max(65_535).default(4870),
    APODIX_COURSE_SITE_URL: z.url().default('http://127.0.0.1:4871'),
    APODIX_COURSE_SITE_KEY: z.string().optional(),
    APODIX_WEB_FOLDER: z.string().optional(),
    APODIX_MAX_UPLOAD_BYTES: z.coerce.number().int().positive().default(20_000_000_000),
    /** Room for pieces that are coded ahead or were coded before, of all people. */
    APODIX_PIECES_BYTES: z.coerce.number().int().nonnegative().default(20_000_000_000),
    APODIX_JOB_COUNT: z.coerce
      .number()
      .int()
      .min(1)
      .max(16)
      .default(Math.max(1, Math.min(2, availableParallelism()))),
    APODIX_DELIVERY_RETRY_MS: z.coerce.number().int().positive().default(15_000),
    APODIX_SESSION_HOURS: z.coerce
      .number()
      .positive()
      .default(24 * 14),
    /** Somebody who was let in by a card on a shared device stays so for no longer. */
    APODIX_CARD_HOURS: z.coerce.number().positive().default(2),
    /** Files (PEM) of a certificate and its key; with both Apodix answers by https. */
    APODIX_TLS_CERTIFICATE: z.string().optional(),
    APODIX_TLS_KEY: z.string().optional(),
    /** Work without an account is gone once its session has run out. */
    APODIX_GUEST_HOURS: z.coerce
      .number()
      .positive()
      .default(24 * 3),
    APODIX_QUOTA_BYTES: z.coerce.number().int().positive().default(100_000_000_000),
    APODIX_GUEST_QUOTA_BYTES: z.coerce.number().int().positive().default(10_000_000_000),
    /** Proxies between Apodix and the browser whose word on address and TLS is taken. */
    APODIX_TRUSTED_PROXIES: z.coerce.number().int().min(0).max(10).default(0),
    APODIX_LOCALE: z.string().refine(isLocale, 'This is no language tag such as en-GB.').default('en-GB'),
    APODIX_REQUESTS_PER_MINUTE: z.coerce.number().int().positive().default(1200),
    APODIX_LOG_LEVEL: z.enum(['fatal', 'error', 'warn', 'info', 'debug', 'silent']).default('warn'),
  })
  .refine((each) => (each.APODIX_TLS_CERTIFICATE === undefined) === (each.APODIX_TLS_KEY === undefined), {
    message: 'APODIX_TLS_CERTIFICATE and APODIX_TLS_KEY are needed together.',
    path: ['APODIX_TLS_CERTIFICATE'],
  });
export type ServerSettings = z.infer<typeof ServerSettings>;
