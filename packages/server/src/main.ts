import { ServerSettings } from './services/settings.ts';
import { startServer } from './start-server.ts';

const settings = ServerSettings.safeParse(process.env);
if (!settings.success) {
  process.stderr.write(
    `A setting is wrong: ${settings.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; ')}\n`,
  );
  process.exit(2);
}
const running = await startServer(settings.data).catch((error: NodeJS.ErrnoException) => {
  const words: Record<string, string> = {
    EADDRINUSE: `Port ${settings.data.APODIX_PORT} is taken. Set APODIX_PORT to another one.`,
    EACCES: `The data folder ${settings.data.APODIX_DATA} cannot be written.`,
    ENOSPC: 'There is no room left on the disk.',
  };
  process.stderr.write(
    `${words[error.code ?? ''] ?? `Apodix could not start: ${error.message}\n${error.stack ?? ''}`}\n`,
  );
  process.exit(1);
});
process.stdout.write(`Apodix on ${running.url}\n`);
process.send?.({ url: running.url });
let isClosing = false;
const close = () => {
  if (isClosing) return;
  isClosing = true;
  void running.close().then(() => process.exit(0));
};
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, close);
process.once('disconnect', close);
