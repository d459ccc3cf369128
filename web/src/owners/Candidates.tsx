import { RadioGroup } from "../ui/RadioGroup";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Field } from "../ui/Field";
import { counted, onDay } from "../ui/words";

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
    <fieldset>
      <legend className="font-semibold">New owner</legend>
      <p className="text-[13px] text-second">
        {found.data?.editsUnknown
          ? `${found.data.editsUnknown} Sorted by unit, then by the number of sites they own.`
          : "Sorted by edits in the last 90 days, then by nearness of their unit, then by the fewest sites owned."}
      </p>
      <RadioGroup
        isRuled
        isBusy={found.isFetching}
        value={props.chosen}
        choices={(found.data?.candidates ?? []).map((candidate) => ({
          value: candidate.person.id,
          isDisabled: candidate.whyNot.length > 0,
          shown: (
            <span className="min-w-0">
              <span className="font-semibold">{candidate.person.name}</span>{" "}
              <span className="text-[13px] break-all text-second">{candidate.person.mail}</span>
              <span className="block text-[13px]">
                {candidate.whyNot.length > 0 ? (
                  <span className="text-madder">Not possible: {candidate.whyNot.join("; ")}</span>
                ) : (
                  evidence(candidate)
                )}
              </span>
            </span>
          ),
        }))}
        onChoose={(id) => {
          const chosen = found.data?.candidates.find(({ person }) => person.id === id);
          if (chosen) props.onChoose(chosen.person);
        }}
        note={
          found.error ? (
            <span className="text-madder">{found.error.message}</span>
          ) : found.data?.candidates.length === 0 ? (
            <span className="text-second">No member of staff has that name.</span>
          ) : null
        }
      />
      <Field
        label="Another person"
        type="search"
        placeholder="Part of a name, or the mail address"
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
    </fieldset>
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
