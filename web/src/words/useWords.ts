import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Wire } from "../api/client";

export type WordWish = Wire["WordWish"];
export type WordFact = "class" | "purpose" | "tags";

export const factNames: Record<WordFact, { one: string; many: string }> = {
  class: { one: "class", many: "classes" },
  purpose: { one: "purpose", many: "purposes" },
  tags: { one: "tag", many: "tags" },
};

export const useWords = () => useQuery({ queryKey: ["words"], queryFn: () => ok(api.GET("/api/words")) });

export const useWordPlan = (wish: WordWish) =>
  useQuery({
    queryKey: ["words", "plan", wish],
    queryFn: () => ok(api.POST("/api/words/plan", { body: wish })),
    placeholderData: (before) => before,
    retry: false,
  });

export function useChangeWords(onDone: (done: Wire["WordsChangedWire"]) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Wire["WordDoneWishWire"]) => ok(api.POST("/api/words", { body })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}

export function useTakeBackWords(onDone: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (entry: number) => ok(api.POST("/api/words/take-back", { body: { entry } })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}
