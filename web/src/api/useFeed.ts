import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { notePlace, placeSeen } from "./client";
import { followFeed, type FeedEvent } from "./feed";
import { isTouched, together } from "./touched";

const pause = 1000;

/** Listens to the feed and asks again for what it changes, at most once a second. */
export function useFeed() {
  const queries = useQueryClient();
  useEffect(() => {
    let waiting: FeedEvent | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const refresh = () => {
      const event = waiting;
      waiting = undefined;
      timer = event && setTimeout(refresh, pause);
      if (event) void queries.invalidateQueries({ predicate: (query) => isTouched(query, event) });
    };
    const stop = followFeed({
      from: placeSeen,
      onEvent: (event) => {
        notePlace(event.place);
        if (event.sites.length === 0 && event.topics.length === 0) return;
        waiting = waiting ? together(waiting, event) : event;
        if (timer === undefined) refresh();
      },
      // The stream ends with the session: asking who is signed in tells whether the session has ended.
      onLost: () => void queries.invalidateQueries({ queryKey: ["me"] }),
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, [queries]);
}
