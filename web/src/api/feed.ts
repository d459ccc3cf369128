import type { Schema } from "./client";

export type FeedEvent = Schema["LedgerEvent"];

interface Listener {
  /** The place from which on this tab wants to hear: what it shows is as of there. */
  from: () => number;
  onEvent: (event: FeedEvent) => void;
  /** The stream broke: perhaps the session has ended. */
  onLost: () => void;
}

type Message = { event: FeedEvent } | "lost";

const name = "attic-ledger-feed";

/**
 * Follows the feed. All tabs of a browser share one connection, because a browser opens only six to a server: the tab that
 * holds a lock listens and passes each message on. When it closes, another tab gets the lock and goes on from the last place.
 * A browser without locks, as over plain HTTP, gets a connection for each tab.
 */
export function followFeed({ from, onEvent, onLost }: Listener): () => void {
  let last = 0;
  const after = () => Math.max(last, from());
  const take = (event: FeedEvent) => {
    if (event.place < last) return;
    last = event.place;
    onEvent(event);
  };
  if (!("locks" in navigator) || typeof BroadcastChannel === "undefined") return listen(after, take, onLost);

  const channel = new BroadcastChannel(name);
  channel.onmessage = ({ data }: MessageEvent<Message>) => (data === "lost" ? onLost() : take(data.event));
  const ended = new AbortController();
  void navigator.locks
    .request(
      name,
      { signal: ended.signal },
      () =>
        new Promise<void>((resolve) => {
          const close = listen(
            after,
            (event) => {
              take(event);
              channel.postMessage({ event } satisfies Message);
            },
            () => {
              onLost();
              channel.postMessage("lost" satisfies Message);
            },
          );
          ended.signal.addEventListener("abort", () => {
            close();
            resolve();
          });
        }),
    )
    .catch((error: unknown) => {
      if (!ended.signal.aborted) throw error;
    });
  return () => {
    ended.abort();
    channel.close();
  };
}

function listen(after: () => number, onEvent: Listener["onEvent"], onLost: Listener["onLost"]): () => void {
  const stream = new EventSource(after() > 0 ? `/api/events?after=${after()}` : "/api/events");
  stream.onmessage = ({ data }: MessageEvent<string>) => onEvent(JSON.parse(data) as FeedEvent);
  stream.onerror = onLost;
  return () => stream.close();
}
