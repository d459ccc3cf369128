import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok } from "../api/client";

/** All sources; looked at every second while one is read. */
export const useSources = () =>
  useQuery({
    queryKey: ["sources"],
    queryFn: () => ok(api.GET("/api/sources")),
    refetchInterval: (query) => (query.state.data?.some((source) => source.isReading) ? 1000 : 30_000),
  });

export function useReadNow(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => ok(api.POST("/api/sources/{name}/read", { params: { path: { name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["sources"] }),
  });
}
