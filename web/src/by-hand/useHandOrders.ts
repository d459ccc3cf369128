import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Wire } from "../api/client";

export type HandLine = Wire["HandLineWire"];

/** Orders that people carry out, as far as they concern whoever looks. */
export const useHandOrders = () => useQuery({ queryKey: ["by-hand"], queryFn: () => ok(api.GET("/api/by-hand")) });

/** A step of an order by hand: done, cannot be done, checked, handed on, called back. */
export function useHandStep<Input>(
  send: (input: Input) => Parameters<typeof ok<Wire["HandOrderWire"]>>[0],
  onDone?: () => void,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (input: Input) => ok(send(input)),
    onSuccess: () => onDone?.(),
    onSettled: () => queries.invalidateQueries(),
  });
}

const purposes = {
  reach: "Change who is let in",
  key: "Change an owner",
  "put-away": "Put away",
  "bring-back": "Bring back",
};

export const handTitle = (line: HandLine) => `${purposes[line.purpose]}: ${line.title}`;
