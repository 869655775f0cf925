import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ServerSettings } from './services/settings.ts';
import { startServer } from './start-server.ts';
import { CERTIFICATE, CERTIFICATE_KEY } from './test-support/certificate.ts';

let folder = '';
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'apodix-tls-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

function ask(url: string, ca?: string): Promise<{ status: number; cookies: readonly string[] }> {
  return new Promise((done, fail) => {
    const asked = request(`${url}/api/session/guest`, { method: 'POST', ...(ca ? { ca } : {}) }, (answer) => {
      answer.resume();
      done({ status: answer.statusCode ?? 0, cookies: answer.headers['set-cookie'] ?? [] });
    });
    asked.once('error', fail);
    asked.setHeader('content-type', 'application/json');
    asked.end('{}');
  });
}

describe('with a certificate', () => {
  it('answers by https, and a browser that does not trust it is kept away', async () => {
    const [certificate, key] = [join(folder, 'c.pem'), join(folder, 'k.pem')];
    await writeFile(certificate, CERTIFICATE);
    await writeFile(key, CERTIFICATE_KEY);
    const server = await startServer(
      ServerSettings.parse({
        APODIX_DATA: join(folder, 'data'),
        APODIX_HOST: '127.0.0.1',
        APODIX_PORT: '0',
        APODIX_TLS_CERTIFICATE: certificate,
        APODIX_TLS_KEY: key,
        APODIX_LOG_LEVEL: 'silent',
      }),
    );
    try {
      expect(server.url).toMatch(/^https:/);
      await expect(ask(server.url)).rejects.toThrow(/self-signed/);
      const { status, cookies } = await ask(server.url, CERTIFICATE);
      expect(status).toBe(200);
      expect(cookies).toHaveLength(1);
      expect(cookies[0]).toMatch(/; Secure/);
    } finally {
      await server.close();
    }
  });

  it('wants its key too, and says so', () => {
    const half = ServerSettings.safeParse({ APODIX_DATA: folder, APODIX_TLS_CERTIFICATE: 'c.pem' });
    expect(half.error?.issues[0]?.message).toContain('APODIX_TLS_KEY');
  });
});
