/** FFmpeg says nothing but what goes wrong, and asks nothing. */
export const QUIET_ARGS = ['-hide_banner', '-nostdin', '-loglevel', 'warning', '-nostats'] as const;

/** The same, and ends at the first error: what is made must be whole. */
export const STRICT_ARGS = [...QUIET_ARGS, '-xerror'] as const;
