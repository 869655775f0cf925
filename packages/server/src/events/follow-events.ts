import type { Request, Response } from 'express';
import type { LiveEvents } from './live-events.ts';

const HEARTBEAT_MS = 15_000;

/** Keeps a stream of server-sent events open until the page goes away. */
export function followEvents(live: LiveEvents, personId: string, request: Request, response: Response): void {
  response.writeHead(200, {
    'content-type': 'text/event-stream',
    'cache-control': 'no-store',
    connection: 'keep-alive',
    'x-accel-buffering': 'no',
  });
  response.write('retry: 1500\n\n');
  const unfollow = live.follow(
    personId,
    (event) => void response.write(`data: ${JSON.stringify(event)}\n\n`),
  );
  const heartbeat = setInterval(() => void response.write(': here\n\n'), HEARTBEAT_MS);
  request.once('close', () => {
    clearInterval(heartbeat);
    unfollow();
  });
}
