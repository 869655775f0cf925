import { SiteSettings } from './settings.ts';
import { startCourseSite } from './start-site.ts';

const settings = SiteSettings.safeParse(process.env);
if (!settings.success) {
  process.stderr.write(
    `A setting is wrong: ${settings.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; ')}\n`,
  );
  process.exit(2);
}
const site = await startCourseSite(settings.data).catch((error: NodeJS.ErrnoException) => {
  const isTaken = error.code === 'EADDRINUSE';
  process.stderr.write(
    isTaken
      ? `Port ${settings.data.APODIX_COURSE_SITE_PORT} is taken. Set APODIX_COURSE_SITE_PORT to another one.\n`
      : `The course site could not start: ${error.message}\n`,
  );
  process.exit(1);
});
process.stdout.write(`course site on ${site.url}\n`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void site.close().then(() => process.exit(0)));
process.once('disconnect', () => void site.close().then(() => process.exit(0)));
