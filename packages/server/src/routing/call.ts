import { ApodixError, type RouteName } from '@apodix/core';
import type { Request, Response } from 'express';
import type { z } from 'zod';
import type { Granted } from '../access/guards.ts';
import type { Services } from '../services/services.ts';

export interface Call<B = unknown> {
  readonly granted: Granted;
  readonly body: B;
  readonly request: Request;
  readonly response: Response;
  readonly services: Services;
}
type Routes = typeof import('@apodix/core').routes;
type BodyOf<N extends RouteName> = Routes[N]['body'] extends z.ZodType ? z.infer<Routes[N]['body']> : null;
/** Gives the JSON answer; undefined where it has answered by itself. */
export type Handlers<N extends RouteName = RouteName> = {
  readonly [K in N]: (call: Call<BodyOf<K>>) => Promise<unknown>;
};

/** Throws `NOT_FOUND` where there is none. */
export function need<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new ApodixError('NOT_FOUND');
  return value;
}
