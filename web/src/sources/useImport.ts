import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Reading } from "./HowRead";

const asProposed: Reading = { columns: {}, days: "" };

/** The steps of an import: choose a file, plan it, correct the mapping, then import it exactly as planned. */
export function useImport<Plan extends { fingerprint: string }>(calls: {
  plan: (list: File, how: Reading) => Promise<Plan>;
  take: (list: File, how: Reading, fingerprint: string) => Promise<unknown>;
}) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [how, setHow] = useState(asProposed);
  const plan = useMutation({
    mutationFn: ({ list, reading }: { list: File; reading: Reading }) => calls.plan(list, reading),
  });
  const take = useMutation({
    mutationFn: ({ list, fingerprint }: { list: File; fingerprint: string }) => calls.take(list, how, fingerprint),
    onSuccess: () => queries.invalidateQueries(),
    onError: () => showPlan(),
  });
  const showPlan = (reading = how) => {
    if (file) plan.mutate({ list: file, reading });
  };
  /** Discards the plan, because the request has changed. */
  const again = () => {
    plan.reset();
    take.reset();
  };
  return {
    file,
    how,
    plan,
    take,
    showPlan,
    again,
    choose: (list: File | null) => {
      again();
      setHow(asProposed);
      setFile(list);
    },
    readAs: (reading: Reading) => {
      setHow(reading);
      take.reset();
      showPlan(reading);
    },
    takeIn: () => {
      if (file && plan.data) take.mutate({ list: file, fingerprint: plan.data.fingerprint });
    },
  };
}
