import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Reading } from "./HowRead";

const asProposed: Reading = { columns: {}, days: "" };

/** A list that is chosen, tried out as it is understood, corrected, and only then taken in, just as it was planned. */
export function useTakingIn<Plan extends { fingerprint: string }>(calls: {
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
    onError: () => look(),
  });
  const look = (reading = how) => {
    if (file) plan.mutate({ list: file, reading });
  };
  /** Forgets what was planned, for something else is asked now. */
  const again = () => {
    plan.reset();
    take.reset();
  };
  return {
    file,
    how,
    plan,
    take,
    look,
    again,
    choose: (list: File | null) => {
      again();
      setHow(asProposed);
      setFile(list);
    },
    readAs: (reading: Reading) => {
      setHow(reading);
      take.reset();
      look(reading);
    },
    takeIn: () => {
      if (file && plan.data) take.mutate({ list: file, fingerprint: plan.data.fingerprint });
    },
  };
}
