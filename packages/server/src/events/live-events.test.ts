import { describe } from 'vitest';
import { describeLiveEvents } from '../test-support/describe-live-events.ts';
import { MemoryLiveEvents } from './live-events.ts';

describe('events within one process', () => describeLiveEvents(() => new MemoryLiveEvents()));
