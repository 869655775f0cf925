import { z } from 'zod';

/** Every setting of the stand-in is an environment variable; docs/settings.md lists them. */
export const SiteSettings = z.object({
  APODIX_DATA: z.string().min(1).default('./data'),
  /** For this machine alone unless it is told otherwise, wherever Apodix itself listens. */
  APODIX_COURSE_SITE_HOST: z.string().min(1).default('127.0.0.1'),
  APODIX_COURSE_SITE_PORT: z.coerce.number().int().min(0).max(65_535).default(4871),
  APODIX_COURSE_SITE_NAME: z.string().min(1).default('Oakmere course site'),
  APODIX_COURSE_SITE_MAX_FILE_BYTES: z.coerce.number().int().positive().default(2_000_000_000),
  /** By how much its clock is wrong. */
  APODIX_COURSE_SITE_CLOCK_MS: z.coerce.number().int().default(0),
  APODIX_COURSE_SITE_DELAY_MS: z.coerce.number().int().nonnegative().default(400),
});
export type SiteSettings = z.infer<typeof SiteSettings>;
