import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { SetFactPlan } from "../classification/SetFactPlan";
import type { ClaimedFact } from "../classification/useSetFact";
import { Button } from "../ui/Button";
import { Select } from "../ui/Select";
import { capital } from "../ui/words";
import { Section } from "./Section";

/** Unit, classification and purpose of a site, with a change of each: the plan says which rules can tell then. For administrators. */
export function SetFactHere({ sitePage }: { sitePage: Schema["SitePage"] }) {
  const maySet = useMe()?.role === "administrator" && sitePage.existence === "in-use";
  const [open, setOpen] = useState<ClaimedFact | null>(null);
  const choices = useQuery({
    queryKey: ["choices of facts"],
    queryFn: () => ok(api.GET("/api/classification/choices")),
    enabled: maySet,
    staleTime: 60_000,
  });
  if (!maySet) return null;
  return (
    <Section title="Set here">
      {(choices.data ?? []).map(({ fact, choices: values }) => (
        <li key={fact} className="border-b border-rule py-1.5">
          <div className="flex items-baseline justify-between gap-3">
            <span>
              {capital(labels.ClaimedFact[fact])}: <b>{current(sitePage, fact)}</b>
            </span>
            <Button aria-expanded={open === fact} onClick={() => setOpen(open === fact ? null : fact)}>
              {open === fact ? "Collapse" : "Change …"}
              <span className="sr-only"> {labels.ClaimedFact[fact]}</span>
            </Button>
          </div>
          {open === fact && <Change fact={fact} values={values} site={sitePage.line.id} onDone={() => setOpen(null)} />}
        </li>
      ))}
    </Section>
  );
}

function current(sitePage: Schema["SitePage"], fact: ClaimedFact): string {
  const value =
    fact === "unit" ? sitePage.line.unit?.name : fact === "classification" ? sitePage.classification : sitePage.purpose;
  return value ?? (sitePage.unknowns.some((unknown) => unknown.fact === fact) ? "not set" : "none");
}

function Change(props: { fact: ClaimedFact; values: Schema["ChoiceOfFact"][]; site: number; onDone: () => void }) {
  const { fact, values, site, onDone } = props;
  const [value, setValue] = useState("");
  return (
    <>
      <Select
        labelled="above"
        label={`The ${labels.ClaimedFact[fact]} is`}
        value={value}
        choices={[{ value: "", words: "choose" }, ...values.map(({ code, name }) => ({ value: code, words: name }))]}
        onChoose={setValue}
      />
      {value !== "" && (
        <SetFactPlan
          request={{ fact, group: null, sites: [site], value }}
          name={values.find(({ code }) => code === value)?.name ?? ""}
          maySet
          note={null}
          onSet={onDone}
        />
      )}
    </>
  );
}
