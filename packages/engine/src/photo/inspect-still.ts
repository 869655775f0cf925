import {
  EMPTY_EVIDENCE,
  isStillKind,
  measureConditions,
  measureTakeLikeness,
  type Evidence,
  type MediaFacts,
} from '@apodix/core';
import type { EvidenceSizes } from '../inspect/probes/picture-evidence.ts';
import { hashFile } from '../process/hash-file.ts';
import { settleAll } from '../process/settle-all.ts';
import { PhotoInspected } from '../still/photo-request.ts';
import { runPhotoChild } from './run-photo-child.ts';

/** The facts of a photograph or a document, with a small picture of it, or of each of its pages. */
export async function inspectStill(
  path: string,
  container: MediaFacts['container'],
  sizeBytes: number,
  sizes: EvidenceSizes | null,
  signal?: AbortSignal,
): Promise<{ facts: MediaFacts; evidence: Evidence }> {
  const [answer, sha256] = await settleAll([
    runPhotoChild({ task: 'inspect', path, container, small: sizes?.color ?? null }, signal),
    hashFile(path, signal),
  ]);
  const { small, photo, document, blur, ...told } = PhotoInspected.parse(answer);
  const kind = document ? 'document' : 'photo';
  if (!isStillKind(kind)) throw new TypeError('A picture was expected.');
  const size = small.widthPx * small.heightPx * 3;
  const rgb = new Uint8Array(Buffer.from(small.rgb, 'base64'));
  const count = Math.floor(rgb.length / size);
  const evidence: Evidence = {
    ...EMPTY_EVIDENCE,
    colors: {
      widthPx: small.widthPx,
      heightPx: small.heightPx,
      rgb,
      frameIndices: Int32Array.from({ length: count }, (_, index) => index),
    },
  };
  return {
    evidence,
    facts: {
      kind,
      container,
      sizeBytes,
      sha256,
      durationUs: null,
      moovFirst: null,
      video: null,
      sound: null,
      photo,
      document,
      continuity: null,
      seen: null,
      likeness: measureTakeLikeness(evidence),
      conditions: kind === 'photo' ? measureConditions(evidence, blur, null, null) : null,
      unread: [],
      ...told,
    },
  };
}
