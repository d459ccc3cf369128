import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";

/** Plans a batch again with another action on some of its sites, or without them. */
export function useAdjust(batch: Schema["Batch"], onDone?: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schema["BatchAdjustRequest"]) =>
      ok(api.POST("/api/batches/{batch}/adjust", { params: { path: { batch: batch.id } }, body })),
    onSuccess: async () => {
      await Promise.all([
        queries.invalidateQueries({ queryKey: ["batch", batch.id] }),
        queries.invalidateQueries({ queryKey: ["batch-lines", batch.id] }),
      ]);
      onDone?.();
    },
  });
}
