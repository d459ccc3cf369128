import { Select } from "../ui/Select";
import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ui/Button";
import { OneOf } from "../ui/OneOf";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { counted, digits, listed } from "../ui/words";
import type { ClassificationSearch } from "../api/search";
import { SetFactPlan } from "./SetFactPlan";
import { useUndo, type ClaimedFact } from "./useSetFact";

type Classification = Schema["Classification"];

/** Facts that are not set: what is proposed and why, and the word in names that helps rules with most of the remaining sites. */
export function ClassificationPage() {
  const { fact } = useSearch({ from: "/books/classification" });
  const navigate = useNavigate();
  const me = useMe();
  const [done, setDone] = useState<{ fact: ClaimedFact; count: number; together: string } | null>(null);
  const week = useQuery({
    queryKey: ["classification", fact],
    queryFn: () => ok(api.GET("/api/classification", { params: { query: { fact } } })),
    placeholderData: (before) => before,
  });
  if (!week.data) return <Waiting title="Classification to complete" error={week.error} />;
  const { sites, unsure, disputed, lacks } = week.data;
  const maySet = me?.role === "administrator";
  return (
    <SidePanel
      title="Classification to complete"
      lead={
        unsure === 0
          ? `Every rule can tell for all ${counted(sites, "site")}.`
          : `For ${unsure.toLocaleString("en-GB")} of ${counted(sites, "site")} a rule cannot tell, because a fact is not set. Set the facts here; nothing is sent to a host.`
      }
    >
      <SettledBar sites={sites} unsure={unsure} />
      <p className="mt-2 text-[13px]">
        <Link to="/vocabulary" search={{ fact: fact === "unit" ? "classification" : fact }} className="underline">
          The vocabulary
        </Link>{" "}
        <span className="text-second">has the values that can be chosen here.</span>
      </p>
      {disputed > 0 && (
        <p className="mt-3">
          Sources disagree about{" "}
          <Link to="/" search={{ filter: "disputed pr" }} className="underline">
            {counted(disputed, "site")}
          </Link>
          .
        </p>
      )}
      <OneOf
        label="Which fact"
        value={fact}
        choices={lacks.map((lack) => ({
          value: lack.fact as ClassificationSearch["fact"],
          words: `${labels.ClaimedFact[lack.fact]}: ${lack.missing.toLocaleString("en-GB")} not set`,
        }))}
        onChoose={(value) => void navigate({ to: "/classification", search: { fact: value } })}
      />
      {done && <Done done={done} onUndone={() => setDone(null)} />}
      <Proposed week={week.data} maySet={maySet} onSet={setDone} />
      <Next week={week.data} maySet={maySet} onSet={setDone} />
      {week.data.proposals.length === 0 && week.data.next.length === 0 && (
        <p className="mt-5 text-second">
          {lacks.find((lack) => lack.fact === fact)?.missing === 0
            ? `The ${labels.ClaimedFact[fact]} of every site is set.`
            : "There is no evidence for the remaining sites, and no 3 of them share a word. Set it on their pages."}
        </p>
      )}
    </SidePanel>
  );
}

function SettledBar({ sites, unsure }: { sites: number; unsure: number }) {
  const settled = sites === 0 ? 1 : 1 - unsure / sites;
  return (
    <svg
      className="mt-3 h-3 w-full"
      viewBox="0 0 1000 12"
      preserveAspectRatio="none"
      role="img"
      aria-label={`${Math.round(settled * 100)} percent of the sites: every rule can tell`}
    >
      <rect width="1000" height="12" className="fill-ochre-pale" />
      <rect width={settled * 1000} height="12" className="fill-moss" />
    </svg>
  );
}

function Done(props: { done: { fact: ClaimedFact; count: number; together: string }; onUndone: () => void }) {
  const { fact, count, together } = props.done;
  const back = useUndo(props.onUndone);
  return (
    <p role="status" className="mt-4 flex items-center gap-3 border-l-[3px] border-moss bg-moss-pale px-3 py-2">
      <span className="font-semibold">
        The {labels.ClaimedFact[fact]} of {counted(count, "site")} is set.
      </span>
      <Button disabled={back.isPending} onClick={() => back.mutate({ fact, together })}>
        Undo
      </Button>
      {back.error && <span className="text-madder">{back.error.message}</span>}
    </p>
  );
}

interface PartProps {
  week: Classification;
  maySet: boolean;
  onSet: (done: { fact: ClaimedFact; count: number; together: string }) => void;
}

function Proposed({ week, maySet, onSet }: PartProps) {
  const [open, setOpen] = useState("");
  if (week.proposals.length === 0) return null;
  return (
    <section className="mt-6" aria-label="Proposed">
      <h2 className="text-[18px]">Proposed</h2>
      <ul className="mt-1 divide-y divide-rule border-y border-rule">
        {week.proposals.map((group) => (
          <li key={group.key} className="py-2.5">
            <div className="flex items-baseline gap-3">
              <p className="min-w-0 flex-1">
                <span className="font-semibold">{nameOf(group)}</span>, {counted(group.count, "site")}
                <span className={group.strength === "split" ? "text-ochre" : "text-second"}>
                  {" "}
                  · {labels.Strength[group.strength]}, by {listed(group.kinds.map((kind) => labels.EvidenceKind[kind]))}
                </span>
                <span className="block text-[13px] text-second">
                  <bdi>{listed(group.first.slice(0, 3).map((site) => site.title))}</bdi>
                  {group.count > 3 && ", …"}
                  {group.decides > 0 && ` · a rule can then tell for ${group.decides.toLocaleString("en-GB")}`}
                </span>
              </p>
              <Button aria-expanded={open === group.key} onClick={() => setOpen(open === group.key ? "" : group.key)}>
                {open === group.key ? "Collapse" : "Review"}
              </Button>
            </div>
            {open === group.key && (
              <SetFactPlan
                request={{ fact: week.fact, group: group.key, sites: null, value: null }}
                name={group.values.length > 1 ? "" : nameOf(group)}
                maySet={maySet && group.strength !== "split"}
                maySetOne={maySet}
                note={
                  group.strength === "split"
                    ? "The evidence differs, so these cannot be set together. Decide for each site."
                    : null
                }
                onSet={onSet}
              />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

// Each site has its own proposed unit.
const nameOf = (group: Schema["ProposalGroup"]) =>
  listed([
    ...group.values.slice(0, 3).map((value) => value.name),
    ...(group.values.length > 3 ? [`${digits(group.values.length - 3)} more`] : []),
  ]);

function Next({ week, maySet, onSet }: PartProps) {
  const [open, setOpen] = useState("");
  const [value, setValue] = useState("");
  if (week.next.length === 0) return null;
  return (
    <section className="mt-6" aria-label="Set next">
      <h2 className="text-[18px]">Set next</h2>
      <p className="text-second">
        There is no sure evidence for these. The word that helps rules with most sites comes first.
      </p>
      <ul className="mt-1 divide-y divide-rule border-y border-rule">
        {week.next.map((group) => (
          <li key={group.key} className="py-2.5">
            <div className="flex items-baseline gap-3">
              <p className="min-w-0 flex-1">
                {counted(group.count, "site")} with <span className="font-semibold">“{group.word}”</span> in the name
                {group.decides > 0 && (
                  <span className="text-second">
                    {" "}
                    · a rule can then tell for {group.decides.toLocaleString("en-GB")}
                  </span>
                )}
                <span className="block text-[13px] text-second">
                  <bdi>{listed(group.first.slice(0, 3).map((site) => site.title))}</bdi>
                  {group.count > 3 && ", …"}
                </span>
              </p>
              <Button
                aria-expanded={open === group.key}
                onClick={() => {
                  setValue("");
                  setOpen(open === group.key ? "" : group.key);
                }}
              >
                {open === group.key ? "Collapse" : "Review"}
              </Button>
            </div>
            {open === group.key && (
              <>
                {maySet && (
                  <Select
                    labelled="beside"
                    label={`The ${labels.ClaimedFact[week.fact]} of all of them is`}
                    value={value}
                    choices={[
                      { value: "", words: "not set" },
                      ...week.choices.map((choice) => ({ value: choice.code, words: choice.name })),
                    ]}
                    onChoose={setValue}
                  />
                )}
                <SetFactPlan
                  request={{ fact: week.fact, group: group.key, sites: null, value: value || null }}
                  name={week.choices.find((choice) => choice.code === value)?.name ?? ""}
                  maySet={maySet && value !== ""}
                  note={null}
                  onSet={onSet}
                />
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
