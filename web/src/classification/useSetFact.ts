import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";

export type ClaimedFact = Schema["ClaimedFact"];

/** Sets a fact of sites as planned. */
export function useSetFact(onDone: (done: Schema["FactsSet"]) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schema["SetFactsRequest"]) => ok(api.POST("/api/classification/facts", { body })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}

/** Undoes what was set: the value of the most direct source applies again. */
export function useUndo(onDone?: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: { fact: ClaimedFact; together?: string; sites?: number[] }) =>
      ok(
        api.POST("/api/classification/facts/undo", {
          body: { fact: request.fact, together: request.together ?? null, sites: request.sites ?? null },
        }),
      ),
    onSuccess: () => onDone?.(),
    onSettled: () => queries.invalidateQueries(),
  });
}

/** Sets a fact of one site, planned and carried out at once: the screen already shows the whole effect. */
export function useDecide() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (request: Schema["SetFactsPlanRequest"]) => {
      const plan = await ok(api.POST("/api/classification/facts/plan", { body: request }));
      return ok(api.POST("/api/classification/facts", { body: { request, fingerprint: plan.fingerprint } }));
    },
    onSettled: () => queries.invalidateQueries(),
  });
}
