import { LiveEvent } from '@apodix/core';

interface Follower {
  onEvent(event: LiveEvent): void;
  onOpen?: (() => void) | undefined;
}

const followers = new Set<Follower>();
let source: EventSource | null = null;

function connect(): void {
  if (source || followers.size === 0) return;
  source = new EventSource('/api/events');
  source.onopen = () => followers.forEach((follower) => follower.onOpen?.());
  source.onmessage = (message: MessageEvent<string>) => {
    const parsed = LiveEvent.safeParse(JSON.parse(message.data));
    if (parsed.success) followers.forEach((follower) => follower.onEvent(parsed.data));
  };
}

function disconnect(): void {
  source?.close();
  source = null;
}

// A page that the browser keeps for going back must not hold its connection: there are only six to a host.
window.addEventListener('pagehide', disconnect);
window.addEventListener('pageshow', connect);

/**
 * Follows what changes in the person's own work, over one connection for the whole page. Gives the function
 * that ends it.
 */
export function followLiveEvents(onEvent: (event: LiveEvent) => void, onOpen?: () => void): () => void {
  const follower: Follower = { onEvent, onOpen };
  followers.add(follower);
  if (source?.readyState === EventSource.OPEN) onOpen?.();
  connect();
  return () => {
    followers.delete(follower);
    if (followers.size === 0) disconnect();
  };
}
