/** How many seconds are counted before a recording begins. */
export const COUNT_INS = [0, 3, 5, 10] as const;
export type CountIn = (typeof COUNT_INS)[number];

/** Where a camera stands. Times are milliseconds of one clock that only runs forward. */
export type CaptureState =
  | { readonly phase: 'lining-up' }
  /** Counts down to the start. */
  | { readonly phase: 'counting'; readonly startsAt: number }
  /** Listens and looks for the start of the performance; what came in the last seconds is kept. */
  | { readonly phase: 'waiting' }
  | { readonly phase: 'recording'; readonly startedAt: number }
  /** The last piece is being written. */
  | { readonly phase: 'ending'; readonly startedAt: number; readonly endedAt: number }
  | { readonly phase: 'ended'; readonly durationMs: number };

export type CaptureEvent =
  | { readonly type: 'press'; readonly at: number; readonly countIn: CountIn; readonly waits: boolean }
  | { readonly type: 'tick'; readonly at: number }
  /** The first sound or movement. */
  | { readonly type: 'noticed'; readonly at: number; readonly keptMs: number }
  | { readonly type: 'stop'; readonly at: number }
  | { readonly type: 'written' }
  | { readonly type: 'again' };

export const LINING_UP: CaptureState = { phase: 'lining-up' };

/**
 * What follows on an event; the same state where it means nothing there. Nothing but `stop` ends a recording.
 */
export function stepCapture(state: CaptureState, event: CaptureEvent): CaptureState {
  switch (event.type) {
    case 'press':
      if (state.phase !== 'lining-up') return state;
      if (event.waits) return { phase: 'waiting' };
      return event.countIn === 0
        ? { phase: 'recording', startedAt: event.at }
        : { phase: 'counting', startsAt: event.at + event.countIn * 1000 };
    case 'tick':
      return state.phase === 'counting' && event.at >= state.startsAt
        ? { phase: 'recording', startedAt: event.at }
        : state;
    case 'noticed':
      return state.phase === 'waiting' ? { phase: 'recording', startedAt: event.at - event.keptMs } : state;
    case 'stop':
      // Stopped before anything was recorded, it lines up again.
      if (state.phase === 'counting' || state.phase === 'waiting') return LINING_UP;
      return state.phase === 'recording'
        ? { phase: 'ending', startedAt: state.startedAt, endedAt: event.at }
        : state;
    case 'written':
      return state.phase === 'ending'
        ? { phase: 'ended', durationMs: state.endedAt - state.startedAt }
        : state;
    case 'again':
      return state.phase === 'ended' ? LINING_UP : state;
  }
}

/** The figure that is shown while counting: 3, 2, 1. */
export function readCount(state: CaptureState, at: number): number | null {
  return state.phase === 'counting' ? Math.max(1, Math.ceil((state.startsAt - at) / 1000)) : null;
}
