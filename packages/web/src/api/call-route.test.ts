import { afterEach, describe, expect, it, vi } from 'vitest';
import { CallError, callRoute } from './call-route.ts';

const answer = (status: number, body: string) => vi.fn(() => Promise.resolve(new Response(body, { status })));
afterEach(() => vi.unstubAllGlobals());
const failure = async (call: Promise<unknown>) =>
  call.then(
    () => null,
    (error: unknown) => (error instanceof CallError ? error.fault : error),
  );

describe('callRoute', () => {
  it('writes parameters so that they cannot leave their place', async () => {
    const fetched = answer(404, '{}');
    vi.stubGlobal('fetch', fetched);
    await failure(callRoute('readAssignment', { params: { assignmentId: '../people?x=1' } }));
    expect(fetched.mock.calls).toEqual([
      ['/api/assignments/..%2Fpeople%3Fx%3D1', { method: 'GET', credentials: 'same-origin' }],
    ]);
  });

  it('passes on what the server tells of a fault', async () => {
    vi.stubGlobal(
      'fetch',
      answer(
        409,
        JSON.stringify({ code: 'CHANGED_MEANWHILE', message: 'It was changed.', next: 'Look again.' }),
      ),
    );
    expect(await failure(callRoute('readAssignment', { params: { assignmentId: 'x' } }))).toMatchObject({
      code: 'CHANGED_MEANWHILE',
      next: 'Look again.',
    });
  });

  it('tells that the server cannot be reached, and never shows a page of somebody else as an answer', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.reject(new TypeError('failed'))),
    );
    expect(await failure(callRoute('readAssignment', { params: { assignmentId: 'x' } }))).toMatchObject({
      code: 'UNREACHABLE',
    });
    vi.stubGlobal('fetch', answer(502, '<html>Bad gateway</html>'));
    expect(await failure(callRoute('readAssignment', { params: { assignmentId: 'x' } }))).toMatchObject({
      code: 'UNEXPECTED',
    });
    vi.stubGlobal('fetch', answer(200, '<html>Welcome to the hotel</html>'));
    expect(await failure(callRoute('readAssignment', { params: { assignmentId: 'x' } }))).not.toBeNull();
  });

  it('a call that was given up is not a fault', async () => {
    const stop = new AbortController();
    stop.abort();
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.reject(new DOMException('aborted', 'AbortError'))),
    );
    expect(
      await failure(callRoute('readAssignment', { params: { assignmentId: 'x' }, signal: stop.signal })),
    ).not.toBeInstanceOf(CallError);
    expect(
      await failure(callRoute('readAssignment', { params: { assignmentId: 'x' }, signal: stop.signal })),
    ).toMatchObject({ name: 'AbortError' });
  });
});
