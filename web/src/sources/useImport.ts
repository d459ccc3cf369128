import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Reading } from "./HowRead";

const asProposed: Reading = { columns: {}, words: {}, days: "" };

/** The steps of an import: choose a file, plan it, correct the mapping, then import it exactly as planned. */
export function useImport<Plan extends { fingerprint: string }>(calls: {
  plan: (list: File, how: Reading) => Promise<Plan>;
  take: (list: File, how: Reading, fingerprint: string) => Promise<unknown>;
}) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  // The last plan stays on the screen, with its mapping, until there is another.
  const [planned, setPlanned] = useState<{ plan: Plan; how: Reading }>();
  const plan = useMutation({
    mutationFn: ({ list, how }: { list: File; how: Reading }) => calls.plan(list, how),
    onSuccess: (made, { how }) => {
      setPlanned({ plan: made, how });
    },
  });
  // A correction adds to those under way; what is refused is not asked again.
  const how = (plan.isPending ? plan.variables.how : planned?.how) ?? asProposed;
  const take = useMutation({
    mutationFn: (it: { list: File; how: Reading; fingerprint: string }) => calls.take(it.list, it.how, it.fingerprint),
    onSuccess: () => queries.invalidateQueries(),
    onError: () => {
      showPlan();
    },
  });
  const showPlan = (reading = how) => {
    if (file) plan.mutate({ list: file, how: reading });
  };
  /** Discards the plan, because the request has changed. */
  const again = () => {
    setPlanned(undefined);
    plan.reset();
    take.reset();
  };
  return {
    file,
    how,
    plan: { data: planned?.plan, isPending: plan.isPending, error: plan.error },
    take,
    showPlan,
    again,
    choose: (list: File | null) => {
      again();
      setFile(list);
    },
    readAs: (reading: Reading) => {
      take.reset();
      showPlan(reading);
    },
    takeIn: () => {
      if (file && planned) take.mutate({ list: file, how: planned.how, fingerprint: planned.plan.fingerprint });
    },
  };
}
