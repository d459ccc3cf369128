import { afterEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../../web/src/api/client";
import { followFeed, type FeedEvent } from "../../web/src/api/feed";
import { isTouched, together } from "../../web/src/api/touched";

const event = (part: Partial<FeedEvent>): FeedEvent => ({ place: 7, sites: [], topics: [], ...part });
const asked = (...queryKey: unknown[]) => ({ queryKey, state: { error: null } });

describe("what an event touches", () => {
  it("is the page of its site, and no other site's", () => {
    expect(isTouched(asked("site", 12), event({ sites: [12] }))).toBe(true);
    expect(isTouched(asked("site", 13), event({ sites: [12] }))).toBe(false);
    expect(isTouched(asked("moves", 12), event({ sites: [12] }))).toBe(true);
  });

  it("is every list of sites, and no list of something else", () => {
    expect(isTouched(asked("register", {}, 0), event({ sites: [12] }))).toBe(true);
    expect(isTouched(asked("desk"), event({ sites: [12] }))).toBe(true);
    expect(isTouched(asked("accounts"), event({ sites: [12] }))).toBe(false);
    expect(isTouched(asked("attributes"), event({ sites: [12] }))).toBe(false);
  });

  it("is a batch for its progress, and the accounts for a changed account", () => {
    expect(isTouched(asked("batch", "a"), event({ topics: ["batches"] }))).toBe(true);
    expect(isTouched(asked("register", {}, 0), event({ topics: ["batches"] }))).toBe(false);
    expect(isTouched(asked("accounts"), event({ topics: ["accounts"] }))).toBe(true);
    expect(isTouched(asked("me"), event({ topics: ["accounts"] }))).toBe(false);
    expect(isTouched(asked("me"), event({ topics: ["own-account"] }))).toBe(true);
  });

  it("is an offer or a task at a site that one may not see", () => {
    expect(isTouched(asked("offer", "a"), event({ topics: ["elsewhere"] }))).toBe(true);
    expect(isTouched(asked("manual-task", "a"), event({ topics: ["elsewhere"] }))).toBe(true);
    expect(isTouched(asked("used sites"), event({ topics: ["elsewhere"] }))).toBe(true);
    expect(isTouched(asked("register", {}, 0), event({ topics: ["elsewhere"] }))).toBe(false);
  });

  it("is everything for a change of the organisation, except what was refused", () => {
    const everything = event({ topics: ["everything"] });
    expect(isTouched(asked("site", 13), everything)).toBe(true);
    const refused = { queryKey: ["accounts"], state: { error: new ApiError(403, "Not allowed.", null) } };
    expect(isTouched(refused, everything)).toBe(false);
    expect(isTouched({ ...refused, state: { error: new ApiError(500, "Failed.", null) } }, everything)).toBe(true);
  });

  it("is the same for two events as one", () => {
    const both = together(event({ place: 8, sites: [1] }), event({ place: 9, sites: [1, 2], topics: ["people"] }));
    expect(both).toEqual({ place: 9, sites: [1, 2], topics: ["people"] });
  });
});

class Stream {
  static open: Stream[] = [];
  onmessage?: (message: { data: string }) => void;
  onerror?: () => void;
  isClosed = false;
  constructor(readonly url: string) {
    Stream.open.push(this);
  }
  close() {
    this.isClosed = true;
  }
  send(part: Partial<FeedEvent>) {
    this.onmessage?.({ data: JSON.stringify(event(part)) });
  }
}

/** One lock, as a browser gives it: to the next in the queue once its holder has ended. */
function locks() {
  let held: Promise<unknown> = Promise.resolve();
  return {
    request: (_: string, options: { signal: AbortSignal }, callback: () => Promise<void>) => {
      const before = held;
      const mine = before.then(() => (options.signal.aborted ? undefined : callback()));
      held = mine;
      return mine;
    },
  };
}

class Channel {
  static all: Channel[] = [];
  onmessage?: (message: { data: unknown }) => void;
  constructor() {
    Channel.all.push(this);
  }
  postMessage(data: unknown) {
    for (const other of Channel.all) if (other !== this) other.onmessage?.({ data });
  }
  close() {
    Channel.all = Channel.all.filter((other) => other !== this);
  }
}

afterEach(() => {
  Stream.open = [];
  Channel.all = [];
});

describe("the feed in several tabs", () => {
  it("has one connection, whose messages all tabs get, and another tab goes on from the last place", async () => {
    vi.stubGlobal("EventSource", Stream);
    vi.stubGlobal("BroadcastChannel", Channel);
    vi.stubGlobal("navigator", { locks: locks() });
    const seen: number[][] = [[], [], []];
    const stops = seen.map((places) =>
      followFeed({ from: () => 5, onEvent: ({ place }) => places.push(place), onLost: vi.fn() }),
    );
    await vi.waitFor(() => expect(Stream.open).toHaveLength(1));
    // What changed between the page's own answers and the stream is told, too.
    expect(Stream.open[0]?.url).toBe("/api/events?after=5");

    Stream.open[0]?.send({ place: 8, sites: [12] });
    expect(seen).toEqual([[8], [8], [8]]);

    stops[0]?.();
    await vi.waitFor(() => expect(Stream.open).toHaveLength(2));
    expect(Stream.open[0]?.isClosed).toBe(true);
    expect(Stream.open[1]?.url).toBe("/api/events?after=8");
    Stream.open[1]?.send({ place: 9 });
    expect(seen).toEqual([[8], [8, 9], [8, 9]]);
    stops.forEach((stop) => stop());
  });

  it("has a connection for each tab where a browser has no locks", () => {
    vi.stubGlobal("EventSource", Stream);
    vi.stubGlobal("navigator", {});
    const stop = followFeed({ from: () => 0, onEvent: vi.fn(), onLost: vi.fn() });
    expect(Stream.open[0]?.url).toBe("/api/events");
    stop();
    expect(Stream.open[0]?.isClosed).toBe(true);
  });
});
