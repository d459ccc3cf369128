import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ApiError, ok, type Wire } from "../api/client";

type Done = Wire["DeedDoneWire"];

/** Each try carries a key of its own, so that a request sent twice by the network is done once. */
export const newKey = () => ({ "Idempotency-Key": crypto.randomUUID() });

/**
 * Carries out a deed. Whatever comes of it, what is on the screen is read anew; after a success only when the caller has
 * gone on, so that nothing jumps under their hands.
 */
export function useDeed<Input>(
  send: (input: Input) => Parameters<typeof ok<Done>>[0],
  onDone?: (done: Done) => void | Promise<void>,
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

/** Why a deed was not done: the facts are other ones by now, it was refused with reasons, or something failed. */
export function faultOf(error: Error): { isOther: boolean; reasons: string[] } {
  if (error instanceof ApiError && error.status === 409 && hasFingerprint(error.body))
    return { isOther: true, reasons: [] };
  if (error instanceof ApiError && error.status === 422) {
    const { reasons } = (error.body ?? {}) as Partial<Wire["RefusalWire"]>;
    if (reasons) return { isOther: false, reasons };
  }
  return { isOther: false, reasons: [error.message] };
}

const hasFingerprint = (body: unknown) => typeof body === "object" && body !== null && "fingerprint" in body;
