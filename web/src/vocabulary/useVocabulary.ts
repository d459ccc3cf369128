import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";

export type VocabularyRequest = Schema["VocabularyRequest"];
export type WordFact = "classification" | "purpose" | "tags";

export const factNames: Record<WordFact, { one: string; many: string }> = {
  classification: { one: "classification", many: "classifications" },
  purpose: { one: "purpose", many: "purposes" },
  tags: { one: "tag", many: "tags" },
};

export const useVocabulary = () =>
  useQuery({ queryKey: ["vocabulary"], queryFn: () => ok(api.GET("/api/vocabulary")) });

export const useVocabularyPlan = (request: VocabularyRequest) =>
  useQuery({
    queryKey: ["vocabulary", "plan", request],
    queryFn: () => ok(api.POST("/api/vocabulary/plan", { body: request })),
    placeholderData: (before) => before,
    retry: false,
  });

export function useChangeVocabulary(onDone: (done: Schema["ActionDone"]) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schema["ChangeVocabularyRequest"]) => ok(api.POST("/api/vocabulary", { body })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}

export function useUndoVocabulary(onDone: () => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (entry: number) => ok(api.POST("/api/vocabulary/undo", { body: { entry } })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}
