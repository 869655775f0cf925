import { LiveEvent } from '@apodix/core';

type Message = { readonly kind: 'event'; readonly event: LiveEvent } | { readonly kind: 'open' };

/** What the line needs of a browser; tests bring their own. */
export interface LineTools {
  createSource(): Pick<EventSource, 'close' | 'readyState' | 'onopen' | 'onmessage' | 'onerror'>;
  /** Tells the other tabs; null where tabs cannot speak with each other. */
  readonly channel: Pick<BroadcastChannel, 'postMessage' | 'onmessage' | 'close'> | null;
  /** Calls back once this tab is the one that holds the stream, until the signal. */
  lead(signal: AbortSignal, onLead: () => void): void;
}

export interface LineListener {
  onEvent(event: LiveEvent): void;
  /** The stream is there (again): what was told meanwhile is lost, so everything is to be read anew. */
  onOpen(): void;
}

const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 30_000;
/** `EventSource.CLOSED`: the browser does not try again by itself. */
const CLOSED = 2;

/**
 * Follows what changes in the person's own work. All tabs share one stream: one of them holds it and tells
 * the others. Where it ends with a fault (signed out, too much at once, a gateway that fails) it is opened
 * again, after a second, two, four, … thirty. Gives the function that ends it.
 */
export function openLiveLine(listener: LineListener, tools: LineTools): () => void {
  const leaving = new AbortController();
  let source: ReturnType<LineTools['createSource']> | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let waitMs = FIRST_WAIT_MS;

  const hear = (message: Message) => {
    if (message.kind === 'open') listener.onOpen();
    else listener.onEvent(message.event);
  };
  const tell = (message: Message) => {
    hear(message);
    tools.channel?.postMessage(message);
  };
  if (tools.channel)
    tools.channel.onmessage = ({ data }: MessageEvent<Message>) => {
      const parsed = data.kind === 'event' ? LiveEvent.safeParse(data.event) : null;
      if (parsed === null) hear({ kind: 'open' });
      else if (parsed.success) hear({ kind: 'event', event: parsed.data });
    };

  function connect(): void {
    if (leaving.signal.aborted) return;
    const own = tools.createSource();
    source = own;
    own.onopen = () => {
      waitMs = FIRST_WAIT_MS;
      tell({ kind: 'open' });
    };
    own.onmessage = (message: MessageEvent<string>) => {
      const parsed = LiveEvent.safeParse(JSON.parse(message.data));
      if (parsed.success) tell({ kind: 'event', event: parsed.data });
    };
    own.onerror = () => {
      if (own.readyState !== CLOSED || own !== source) return;
      own.close();
      timer = setTimeout(connect, waitMs);
      waitMs = Math.min(LONGEST_WAIT_MS, waitMs * 2);
    };
  }
  tools.lead(leaving.signal, connect);

  return () => {
    leaving.abort();
    clearTimeout(timer);
    source?.close();
    tools.channel?.close();
  };
}

/**
 * The browser's own stream, channel and locks, of one person: tabs in which somebody else is still shown hear
 * nothing of it.
 */
export function findBrowserTools(personId: string): LineTools {
  const name = `apodix-events:${personId}`;
  const canShare = 'locks' in navigator && 'BroadcastChannel' in window;
  return {
    createSource: () => new EventSource('/api/events'),
    channel: canShare ? new BroadcastChannel(name) : null,
    lead: (signal, onLead) => {
      if (!canShare) return onLead();
      const hold = () =>
        new Promise<void>((resolve) => {
          signal.addEventListener('abort', () => resolve(), { once: true });
          onLead();
        });
      // Whoever leaves while waiting in line is told so by a rejection.
      void navigator.locks.request(name, { signal }, hold).catch(() => undefined);
    },
  };
}
