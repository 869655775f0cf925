import { containerTable, type ContainerId } from '@apodix/core';
import { resolve } from 'node:path';

/**
 * How FFmpeg is given a foreign file: only local files and pipes may be opened, the demuxer is the one that
 * the bytes call for (so that no script or playlist is followed), and the path cannot be read as an option or
 * a protocol.
 */
export function buildInputArgs(path: string, container: ContainerId): string[] {
  const { demuxer } = containerTable[container];
  if (demuxer === null) throw new TypeError(`${container} is not read by FFmpeg.`);
  return ['-protocol_whitelist', 'file,pipe', '-f', demuxer, '-i', nameFile(path)];
}

/** A path as FFmpeg is given it: whole, and no option or protocol whatever it begins with. */
export const nameFile = (path: string) => `file:${resolve(path)}`;
