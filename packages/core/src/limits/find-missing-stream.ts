import type { FaultCode } from '../errors/catalogue.ts';
import { containerTable } from '../media/containers.ts';
import type { MediaFacts } from '../media/facts.ts';
import type { Limit } from './limit.ts';

/**
 * Whether a take lacks what the *musts* cannot do without: a picture where a video is wanted, sound where
 * sound is wanted. Gives the fault code, or null where the take can be used.
 */
export function findMissingStream(limits: readonly Limit[], facts: MediaFacts): FaultCode | null {
  const musts = limits.filter((limit) => limit.severity === 'must');
  if (facts.kind === 'sound') {
    const allowsSoundAlone = musts.some(
      (limit) =>
        (limit.kind === 'count' && limit.item === 'sound') ||
        limit.appliesTo === 'sound' ||
        (limit.kind === 'format' && limit.wanted.some((id) => containerTable[id].kind === 'sound')),
    );
    if (!allowsSoundAlone && musts.some(isPictureWanted)) return 'MISSING_PICTURE';
  }
  if (facts.kind === 'video' && facts.sound === null) {
    const isSoundWanted = musts.some(
      (limit) =>
        limit.kind === 'sound-present' &&
        limit.isWanted &&
        (limit.appliesTo === 'any' || limit.appliesTo === 'video'),
    );
    if (isSoundWanted) return 'MISSING_SOUND';
  }
  return null;
}

function isPictureWanted(limit: Limit): boolean {
  if (limit.kind === 'count') return limit.item === 'video' && limit.min > 0;
  if (limit.kind === 'format')
    return limit.wanted.length > 0 && limit.wanted.every((id) => containerTable[id].kind === 'video');
  return limit.appliesTo === 'video' || limit.kind === 'orientation' || limit.kind === 'frame-rate';
}
