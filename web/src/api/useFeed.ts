import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { notePlace } from "./client";

/** Listens for the register moving on, and lets what is on the screen be read anew. */
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
    // The stream ends with the session; asking who one is tells whether that is why.
    stream.onerror = () => void queries.invalidateQueries({ queryKey: ["me"] });
    return () => stream.close();
  }, [queries]);
}
