import { skipToken, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";

export type RuleRequest = Schema["RuleRequest"];

export const useRuleBook = () => useQuery({ queryKey: ["rules"], queryFn: () => ok(api.GET("/api/rules")) });

export const useRuleHistory = (rule: string) =>
  useQuery({
    queryKey: ["rules", rule],
    queryFn: () => ok(api.GET("/api/rules/{rule}", { params: { path: { rule } } })),
    retry: false,
  });

/** What a change of the rule book would do; nothing is asked for a request that is not complete. */
export const useRulePlan = (request: RuleRequest | null) =>
  useQuery({
    queryKey: ["rules", "plan", request],
    queryFn: request === null ? skipToken : () => ok(api.POST("/api/rules/plan", { body: request })),
    placeholderData: (before) => before,
    retry: false,
  });

export function useWriteRule(onDone: (done: Schema["RuleDone"]) => void | Promise<void>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schema["WriteRuleRequest"]) => ok(api.POST("/api/rules", { body })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}

export function useUndoRule() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schema["UndoRuleRequest"]) => ok(api.POST("/api/rules/undo", { body })),
    onSettled: () => queries.invalidateQueries(),
  });
}

/** What importing a rule book would do; nothing is asked before a file is chosen. */
export const useRuleFilePlan = (book: string | null) =>
  useQuery({
    queryKey: ["rules", "file", book],
    queryFn: book === null ? skipToken : () => ok(api.POST("/api/rules/file/plan", { body: { book } })),
    retry: false,
  });

export function useImportRules(onDone: (done: Schema["RulesImported"]) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schema["ImportRulesRequest"]) => ok(api.POST("/api/rules/file", { body })),
    onSuccess: onDone,
    onSettled: () => queries.invalidateQueries(),
  });
}
