import { useQuery } from "@tanstack/react-query";
import { api, ok } from "./client";

/** Who is signed in. */
export const meQuery = {
  queryKey: ["me"],
  queryFn: () => ok(api.GET("/api/session")),
  staleTime: 60_000,
};

export const useMe = () => useQuery(meQuery).data;
