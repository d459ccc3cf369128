import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { counted, onDay } from "../ui/words";
import { ChoosePerson } from "../site-parts/ChoosePerson";

type Candidate = Schema["Candidate"];

/** Possible new owners with the evidence for each. A search by name also finds people who cannot own it, with the reasons. */
export function Candidates(props: {
  site: number;
  chosen: number | null;
  onChoose: (person: Candidate["person"]) => void;
}) {
  const [find, setFind] = useState("");
  const path = { site: props.site };
  const found = useQuery({
    queryKey: ["successors", props.site, find],
    queryFn: () => ok(api.GET("/api/sites/{site}/successors", { params: { path, query: find ? { find } : {} } })),
    placeholderData: (before) => before,
    staleTime: 60_000,
  });
  return (
    <ChoosePerson
      note={
        found.data?.editsUnknown
          ? `${found.data.editsUnknown} Sorted by unit, then by the number of sites they own.`
          : "Sorted by edits in the last 90 days, then by nearness of their unit, then by the fewest sites owned."
      }
      candidates={found.data?.candidates.map((candidate) => ({ ...candidate, evidence: evidence(candidate) }))}
      chosen={props.chosen}
      onChoose={props.onChoose}
      find={find}
      onFind={setFind}
      isBusy={found.isFetching}
      error={found.error}
    />
  );
}

function evidence(candidate: Candidate): string {
  const parts = [
    candidate.edits === null
      ? "edits not reported"
      : candidate.edits === 0
        ? "no recent edits"
        : `edited it ${counted(candidate.edits, "time")}, last on ${onDay(candidate.lastEdit ?? "")}`,
    candidate.unitSteps === 0
      ? `in its unit, ${candidate.unit ?? ""}`
      : candidate.unitSteps !== null
        ? `in ${candidate.unit ?? ""}, above its unit`
        : candidate.unit
          ? `in ${candidate.unit}`
          : "without a unit",
    candidate.power ? `may ${candidate.power} now` : null,
    `owns ${counted(candidate.load, "site")}`,
  ];
  return parts.filter((part) => part !== null).join("; ");
}
