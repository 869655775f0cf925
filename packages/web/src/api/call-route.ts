import { Fault, routes, type AnswerOf, type BodyOf, type RouteName } from '@apodix/core';

/** A fault that the server told, or that it could not be reached. */
export class CallError extends Error {
  readonly fault: Fault;

  constructor(fault: Fault) {
    super(fault.message);
    this.name = 'CallError';
    this.fault = fault;
  }
}

const OFFLINE: Fault = {
  code: 'UNREACHABLE',
  message: 'Apodix cannot be reached just now.',
  next: 'Check the connection and try again. Nothing was lost.',
};

export interface CallOptions<N extends RouteName> {
  readonly params?: Readonly<Record<string, string>>;
  readonly body?: BodyOf<N>;
  readonly signal?: AbortSignal;
}

/** Calls a route of the contract and gives its checked answer; throws `CallError`. */
export async function callRoute<N extends RouteName>(
  name: N,
  options: CallOptions<N> = {},
): Promise<AnswerOf<N>> {
  const route = routes[name];
  const path = route.path.replace(/:(\w+)/g, (_match, key: string) =>
    encodeURIComponent(options.params?.[key] ?? ''),
  );
  let answer: Response;
  try {
    answer = await fetch(path, {
      method: route.method,
      credentials: 'same-origin',
      ...(options.body === undefined
        ? {}
        : { body: JSON.stringify(options.body), headers: { 'content-type': 'application/json' } }),
      ...(options.signal ? { signal: options.signal } : {}),
    });
  } catch (error) {
    if (options.signal?.aborted) throw error;
    throw new CallError(OFFLINE);
  }
  const json: unknown = await answer.json().catch(() => null);
  if (!answer.ok) {
    const fault = Fault.safeParse(json);
    throw new CallError(
      fault.success ? fault.data : { ...OFFLINE, code: 'UNEXPECTED', message: 'Something went wrong.' },
    );
  }
  return route.answer === null ? (undefined as AnswerOf<N>) : (route.answer.parse(json) as AnswerOf<N>);
}
