import { useQuery } from "@tanstack/react-query";
import { api, ok } from "../api/client";

/** Requests to start a site: one's own, and those that one may grant. */
export const useSiteRequests = () =>
  useQuery({
    queryKey: ["site requests"],
    queryFn: () => ok(api.GET("/api/site-requests")),
    refetchInterval: (query) => (query.state.data?.open.some(({ state }) => state === "being-made") ? 2000 : false),
  });
