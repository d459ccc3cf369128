import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { notePlace } from "./client";

/** Listens to the feed and reloads what is on the screen when the register changes. */
export function useFeed() {
  const queries = useQueryClient();
  useEffect(() => {
    const stream = new EventSource("/api/events");
    let last = 0;
    stream.onmessage = (event: MessageEvent<string>) => {
      const { place } = JSON.parse(event.data) as { place: number };
      notePlace(place);
      if (place > last) {
        if (last > 0) void queries.invalidateQueries();
        last = place;
      }
    };
    // The stream ends with the session: asking who is signed in tells whether the session has ended.
    stream.onerror = () => void queries.invalidateQueries({ queryKey: ["me"] });
    return () => stream.close();
  }, [queries]);
}
