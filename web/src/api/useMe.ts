import { useQuery } from "@tanstack/react-query";
import { showInZone } from "../ui/words";
import { api, ok } from "./client";

/** Who is signed in. */
export const meQuery = {
  queryKey: ["me"],
  queryFn: async () => {
    const me = await ok(api.GET("/api/session"));
    if (me.zone) showInZone(me.zone);
    return me;
  },
  staleTime: 60_000,
};

export const useMe = () => useQuery(meQuery).data;
