import { ApiClient } from '@apodix/demo';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { buildAnnouncement, startApodix } from '../../tests/test-support/running-apodix.ts';
import type { Benchmark, Row } from '../benchmark.ts';

const CHUNK = Buffer.alloc(8 * 1024 * 1024);
const SIZES = [200_000_000, 4_000_000_000] as const;

const readMemory = (pid: number, name: 'VmRSS' | 'VmHWM') =>
  Number(new RegExp(`${name}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1000;

async function send(url: string, cookie: string, sizeBytes: number): Promise<void> {
  const encode = (text: string) => Buffer.from(text).toString('base64');
  const created = await fetch(`${url}/api/uploads`, {
    method: 'POST',
    headers: {
      cookie,
      'tus-resumable': '1.0.0',
      'upload-length': String(sizeBytes),
      'upload-metadata': `name ${encode('zeros.bin')},assignmentId ${encode('solo')}`,
    },
  });
  const location = new URL(created.headers.get('location') ?? '', url);
  for (let at = 0; at < sizeBytes; at += CHUNK.length) {
    const part = CHUNK.subarray(0, Math.min(CHUNK.length, sizeBytes - at));
    await new Promise<void>((done, fail) => {
      const patch = request(
        location,
        {
          method: 'PATCH',
          headers: {
            cookie,
            'tus-resumable': '1.0.0',
            'upload-offset': String(at),
            'content-type': 'application/offset+octet-stream',
            'content-length': String(part.length),
          },
        },
        (answer) => {
          answer.resume();
          answer.on('end', () =>
            answer.statusCode === 204 ? done() : fail(new Error(String(answer.statusCode))),
          );
        },
      );
      patch.on('error', fail);
      patch.end(part);
    });
  }
}

/** Memory of the server while a file comes in: a large one takes no more than a small one. */
export const uploadBenchmark: Benchmark = {
  name: 'upload',
  isShort: false,
  run: async (_isLong, tell) => {
    const apodix = await startApodix([buildAnnouncement('solo', 'video', [])]);
    const rows: Row[] = [];
    try {
      const client = new ApiClient(apodix.url);
      await client.signIn('ann');
      const pid = apodix.server.pid ?? 0;
      let first = 0;
      for (const sizeBytes of SIZES) {
        const startedAt = performance.now();
        await send(apodix.url, client.cookie, sizeBytes);
        const highest = readMemory(pid, 'VmHWM');
        first ||= highest;
        const row = {
          'file, MB': sizeBytes / 1e6,
          'MB a second': Number((sizeBytes / 1e3 / (performance.now() - startedAt)).toFixed(0)),
          'server now, MB': Number(readMemory(pid, 'VmRSS').toFixed(0)),
          'highest, MB': Number(highest.toFixed(0)),
          'times that of the first': Number((highest / first).toFixed(2)),
        };
        rows.push(row);
        tell(row);
      }
    } finally {
      await apodix.stop();
    }
    return { tables: [{ title: 'Memory of the server (baseline: a file of 200 MB)', rows }] };
  },
};
