import { useQuery } from "@tanstack/react-query";
import { api, ok, type Schema } from "./client";

/** An attempt without an answer writes no journal entry, so a change under way is polled every second. */
const isMoving = (sitePage: Schema["SitePage"] | undefined) =>
  sitePage?.hostChanges.some((hostChange) => ["queued", "sent", "confirmed"].includes(hostChange.state)) ?? false;

export const useSitePage = (site: number) =>
  useQuery({
    refetchInterval: (query) => (isMoving(query.state.data) ? 1000 : false),
    queryKey: ["site", site],
    queryFn: () => ok(api.GET("/api/sites/{site}", { params: { path: { site } } })),
  });
