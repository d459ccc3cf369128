import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ledger/Button";
import { OneOf } from "../ledger/OneOf";
import { Sheet, Waiting } from "../ledger/Sheet";
import { counted, inWords, listed } from "../ledger/words";
import type { FirstWeekSearch } from "../search";
import { SayPlan } from "./SayPlan";
import { useTakeBack, type SaidFact } from "./useSay";

type FirstWeek = Wire["FirstWeekWire"];

const factWords: Record<SaidFact, string> = {
  unit: "unit",
  class: "class",
  purpose: "purpose",
  tags: "tags",
  name: "name",
  address: "address",
};

const kindWords: Record<Wire["EvidenceKind"], string> = {
  owners: "their owners",
  parent: "the site above",
  word: "words in other names",
  neighbours: "sites like them",
  meaning: "what a word means",
};

const strengthWords: Record<Wire["Strength"], string> = { sure: "sure", likely: "likely", split: "evidence differs" };

/** A dirty list made clean: what nobody has said, what is proposed and why, and the word that decides most sites next. */
export function FirstWeekPage() {
  const { fact } = useSearch({ from: "/books/first-week" });
  const navigate = useNavigate();
  const me = useMe();
  const [done, setDone] = useState<{ fact: SaidFact; count: number; together: string } | null>(null);
  const week = useQuery({
    queryKey: ["first-week", fact],
    queryFn: () => ok(api.GET("/api/first-week", { params: { query: { fact } } })),
    placeholderData: (before) => before,
  });
  if (!week.data) return <Waiting title="The first week" error={week.error} />;
  const { sites, unsure, disputed, lacks } = week.data;
  const maySay = me?.role === "administrator";
  return (
    <Sheet
      title="The first week"
      lead={
        unsure === 0
          ? `Every rule can be told of all ${counted(sites, "site")}.`
          : `Of ${unsure.toLocaleString("en-GB")} of ${counted(sites, "site")} a rule cannot be told. What is said here decides them; nothing is asked of a host.`
      }
    >
      <Told sites={sites} unsure={unsure} />
      <p className="mt-2 text-[13px]">
        <Link to="/words" search={{ fact: fact === "unit" ? "class" : fact }} className="underline">
          The house's words
        </Link>{" "}
        <span className="text-second">are what can be chosen here.</span>
      </p>
      {disputed > 0 && (
        <p className="mt-3">
          Sources say different things of{" "}
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
          value: lack.fact as FirstWeekSearch["fact"],
          words: `${factWords[lack.fact]}: ${lack.missing.toLocaleString("en-GB")} not said`,
        }))}
        onChoose={(value) => void navigate({ to: "/first-week", search: { fact: value } })}
      />
      {done && <Done done={done} onTakenBack={() => setDone(null)} />}
      <Proposed week={week.data} maySay={maySay} onSaid={setDone} />
      <Next week={week.data} maySay={maySay} onSaid={setDone} />
      {week.data.proposals.length === 0 && week.data.next.length === 0 && (
        <p className="mt-5 text-second">
          {lacks.find((lack) => lack.fact === fact)?.missing === 0
            ? `The ${factWords[fact]} of every site is said.`
            : "Nothing speaks of what is left, and no three sites have a word in common. Say it on their pages."}
        </p>
      )}
    </Sheet>
  );
}

function Told({ sites, unsure }: { sites: number; unsure: number }) {
  const told = sites === 0 ? 1 : 1 - unsure / sites;
  return (
    <svg
      className="mt-3 h-3 w-full"
      viewBox="0 0 1000 12"
      preserveAspectRatio="none"
      role="img"
      aria-label={`${Math.round(told * 100)} of a hundred sites can be told`}
    >
      <rect width="1000" height="12" className="fill-ochre-pale" />
      <rect width={told * 1000} height="12" className="fill-moss" />
    </svg>
  );
}

function Done(props: { done: { fact: SaidFact; count: number; together: string }; onTakenBack: () => void }) {
  const { fact, count, together } = props.done;
  const back = useTakeBack(props.onTakenBack);
  return (
    <p role="status" className="mt-4 flex items-center gap-3 border-l-[3px] border-moss bg-moss-pale px-3 py-2">
      <span className="font-semibold">
        The {factWords[fact]} of {counted(count, "site")} is said.
      </span>
      <Button disabled={back.isPending} onClick={() => back.mutate({ fact, together })}>
        Take it back
      </Button>
      {back.error && <span className="text-madder">{back.error.message}</span>}
    </p>
  );
}

interface PartProps {
  week: FirstWeek;
  maySay: boolean;
  onSaid: (done: { fact: SaidFact; count: number; together: string }) => void;
}

function Proposed({ week, maySay, onSaid }: PartProps) {
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
                  · {strengthWords[group.strength]}, by {listed(group.kinds.map((kind) => kindWords[kind]))}
                </span>
                <span className="block text-[13px] text-second">
                  <bdi>{listed(group.first.slice(0, 3).map((site) => site.title))}</bdi>
                  {group.count > 3 && ", …"}
                  {group.decides > 0 && ` · decides ${group.decides.toLocaleString("en-GB")}`}
                </span>
              </p>
              <Button aria-expanded={open === group.key} onClick={() => setOpen(open === group.key ? "" : group.key)}>
                {open === group.key ? "Fold up" : "Look"}
              </Button>
            </div>
            {open === group.key && (
              <SayPlan
                wish={{ fact: week.fact, group: group.key, sites: null, value: null }}
                name={group.values.length > 1 ? "" : nameOf(group)}
                maySay={maySay && group.strength !== "split"}
                note={
                  group.strength === "split"
                    ? "Evidence differs here, so it is not said of all at once. Open a site and decide."
                    : null
                }
                onSaid={onSaid}
              />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

// Units are many: each site is proposed its own.
const nameOf = (group: Wire["ProposalGroupWire"]) =>
  listed([
    ...group.values.slice(0, 3).map((value) => value.name),
    ...(group.values.length > 3 ? [`${inWords(group.values.length - 3)} more`] : []),
  ]);

function Next({ week, maySay, onSaid }: PartProps) {
  const [open, setOpen] = useState("");
  const [value, setValue] = useState("");
  if (week.next.length === 0) return null;
  return (
    <section className="mt-6" aria-label="To say next">
      <h2 className="text-[18px]">To say next</h2>
      <p className="text-second">Nothing surely speaks of these. Those that decide most stand first.</p>
      <ul className="mt-1 divide-y divide-rule border-y border-rule">
        {week.next.map((group) => (
          <li key={group.key} className="py-2.5">
            <div className="flex items-baseline gap-3">
              <p className="min-w-0 flex-1">
                {counted(group.count, "site")} with <span className="font-semibold">“{group.word}”</span> in the name
                {group.decides > 0 && (
                  <span className="text-second"> · decides {group.decides.toLocaleString("en-GB")}</span>
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
                {open === group.key ? "Fold up" : "Look"}
              </Button>
            </div>
            {open === group.key && (
              <>
                {maySay && (
                  <label className="mt-2 block font-semibold">
                    The {factWords[week.fact]} of all of them is
                    <select
                      value={value}
                      onChange={(event) => setValue(event.target.value)}
                      className="ml-2 rounded-[4px] border border-rule-strong bg-sheet px-2 py-1.5 font-normal"
                    >
                      <option value="">not said</option>
                      {week.choices.map((choice) => (
                        <option key={choice.code} value={choice.code}>
                          {choice.name}
                        </option>
                      ))}
                    </select>
                  </label>
                )}
                <SayPlan
                  wish={{ fact: week.fact, group: group.key, sites: null, value: value || null }}
                  name={week.choices.find((choice) => choice.code === value)?.name ?? ""}
                  maySay={maySay && value !== ""}
                  note={null}
                  onSaid={onSaid}
                />
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
