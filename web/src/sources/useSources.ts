import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok } from "../api/client";

/** All sources; polled every second during a sync. */
export const useSources = () =>
  useQuery({
    queryKey: ["sources"],
    queryFn: () => ok(api.GET("/api/sources")),
    refetchInterval: (query) => (query.state.data?.some((source) => source.isSyncing) ? 1000 : 30_000),
  });

export function useSyncNow(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => ok(api.POST("/api/sources/{name}/sync", { params: { path: { name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["sources"] }),
  });
}
