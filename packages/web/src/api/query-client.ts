import { QueryCache, QueryClient } from '@tanstack/vue-query';
import { CallError } from './call-route.ts';

const MOST_RETRIES = 2;

const signedOut = new Set<() => void>();

/** Calls back where an answer tells that nobody is signed in any more. */
export function onSignedOut(tell: () => void): void {
  signedOut.add(tell);
}

/** What the server has told, kept by what was asked for; one for the whole page. */
export const queryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error) => {
      if (error instanceof CallError && error.fault.code === 'NOT_SIGNED_IN')
        signedOut.forEach((tell) => tell());
    },
  }),
  defaultOptions: {
    queries: {
      // The event stream tells what changed; until then what is here holds.
      staleTime: 60_000,
      networkMode: 'always',
      refetchOnWindowFocus: true,
      retry: (count, error) => count < MOST_RETRIES && isUnreachable(error),
    },
    mutations: { networkMode: 'always' },
  },
});

export const queryKeys = {
  today: ['today'] as const,
  takes: ['takes'] as const,
  assignments: ['assignment'] as const,
  assignment: (id: string | null) => ['assignment', id] as const,
  receipt: (id: string) => ['receipt', id] as const,
};

export const isUnreachable = (error: unknown) =>
  error instanceof CallError && error.fault.code === 'UNREACHABLE';

/** Whether it is not there, or not for this person. */
export const isNotHere = (error: unknown) =>
  error instanceof CallError && ['NOT_FOUND', 'NOT_ALLOWED', 'BAD_REQUEST'].includes(error.fault.code);
