import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ApiError, ok, type Schema } from "../api/client";

type Done = Schema["ActionDone"];

/** Carries out an action, then reloads what is on the screen; after a success only once the caller has moved on, so that nothing moves while somebody types. */
export function useAction<Input, Result = Done>(
  send: (input: Input) => Parameters<typeof ok<Result>>[0],
  onDone?: (done: Result) => void | Promise<void>,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (input: Input) => ok(send(input)),
    onSuccess: async (done) => {
      await onDone?.(done);
    },
    onSettled: () => queries.invalidateQueries(),
  });
}

/** Why an action was not done: the facts have changed, it was refused with reasons, or something failed. */
export function faultOf(error: Error): { isOther: boolean; reasons: string[] } {
  if (error instanceof ApiError && error.status === 409 && hasFingerprint(error.body))
    return { isOther: true, reasons: [] };
  if (error instanceof ApiError && error.status === 422) {
    const { reasons } = (error.body ?? {}) as Partial<Schema["Refusal"]>;
    if (reasons) return { isOther: false, reasons: reasons.map(({ sentence }) => sentence) };
  }
  return { isOther: false, reasons: [error.message] };
}

const hasFingerprint = (body: unknown) => typeof body === "object" && body !== null && "fingerprint" in body;
