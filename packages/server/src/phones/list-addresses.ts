import { networkInterfaces } from 'node:os';

/** Whether a server that listens there can be reached from another device. */
export const isReachable = (host: string): boolean => !/^(?:127\.|localhost$|::1$)/.test(host);

/** Whole addresses by which other devices on the same network reach this computer. */
export function listAddresses(host: string, port: number, scheme: 'http' | 'https'): string[] {
  if (!isReachable(host)) return [];
  const isEverywhere = host === '0.0.0.0' || host === '::';
  const hosts = isEverywhere
    ? Object.values(networkInterfaces())
        .flatMap((each) => each ?? [])
        .filter((each) => each.family === 'IPv4' && !each.internal)
        .map((each) => each.address)
    : [host];
  return hosts.map((each) => `${scheme}://${each}:${port}`);
}
