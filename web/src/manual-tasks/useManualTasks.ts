import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";

export type ManualTaskRow = Schema["ManualTaskRow"];

/** The manual tasks that concern the person who is signed in. */
export const useManualTasks = () =>
  useQuery({ queryKey: ["manual-task"], queryFn: () => ok(api.GET("/api/manual-tasks")) });

/** A step of a manual task: done, failed, checked, reassigned, cancelled. */
export function useManualTaskStep<Input>(
  send: (input: Input) => Parameters<typeof ok<Schema["ManualTask"]>>[0],
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
  reach: "Change who has access",
  owners: "Change an owner",
  "move-to-attic": "Move to the attic",
  restore: "Restore",
  look: "Change name, description or logo",
  address: "Change the address",
};

export const manualTaskTitle = (line: ManualTaskRow) => `${purposes[line.purpose]}: ${line.title}`;
