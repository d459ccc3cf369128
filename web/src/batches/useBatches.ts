import { useQuery } from "@tanstack/react-query";
import { api, ok } from "../api/client";

/** Batches under way and those that ended recently. */
export const useBatches = () => useQuery({ queryKey: ["batches"], queryFn: () => ok(api.GET("/api/batches")) });
