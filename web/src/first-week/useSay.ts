import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Wire } from "../api/client";

export type SaidFact = Wire["SaidFact"];

/** Says a fact of sites as it was planned. */
export function useSay(onDone: (said: Wire["SaidWire"]) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Wire["SayDoneWishWire"]) => ok(api.POST("/api/said", { body })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}

/** Takes back what was said: the most direct source stands again. */
export function useTakeBack(onDone?: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (wish: { fact: SaidFact; together?: string; sites?: number[] }) =>
      ok(
        api.POST("/api/said/take-back", {
          body: { fact: wish.fact, together: wish.together ?? null, sites: wish.sites ?? null },
        }),
      ),
    onSuccess: () => onDone?.(),
    onSettled: () => queries.invalidateQueries(),
  });
}

/** Decides a fact of one site: planned and said at once, for all that it comes to stands on the screen. */
export function useDecide() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (wish: Wire["SayWire"]) => {
      const plan = await ok(api.POST("/api/said/plan", { body: wish }));
      return ok(api.POST("/api/said", { body: { wish, fingerprint: plan.fingerprint } }));
    },
    onSettled: () => queries.invalidateQueries(),
  });
}
