import type { Plan, VideoPlan } from './plan.ts';

/**
 * Whether anything of a plan can be made before it is asked for: a picture that is coded in pieces,
 * steered by samples. Everything else is made in seconds, or in one go.
 */
export function canMakeAhead(plan: Plan): plan is VideoPlan {
  return (
    plan.kind === 'video' &&
    plan.method === 'code' &&
    plan.rate.videoCodec === 'h264' &&
    plan.rate.model !== null
  );
}
