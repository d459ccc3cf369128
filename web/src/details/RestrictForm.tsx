import { Select } from "../ui/Select";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { ActionFault } from "../actions/ActionFault";
import { EffectList } from "../actions/EffectList";

type Limits = Schema["Limits"];
type Power = keyof Limits;

const rows: { power: Power; words: string }[] = [
  { power: "view", words: "View the published site" },
  { power: "preview", words: "View the draft" },
  { power: "edit", words: "Edit" },
];
const insides: Schema["InsideWord"][] = ["nobody", "named-in-unit", "named", "unit", "staff"];
const outsides: Schema["OutsideLevel"][] = ["no-one", "named-guests", "partners", "anonymous"];
const plain = (word: string) => (word === "anonymous" ? word : word.replaceAll("-", " "));

const shut: Limits = {
  view: { inside: "staff", outside: "no-one", visitorSignIn: "account" },
  preview: { inside: "staff", outside: "no-one", visitorSignIn: "account" },
  edit: { inside: "named", outside: "no-one", visitorSignIn: "account" },
};

/**
 * The remedy and its predicted effect, with a form to adjust it. The form keeps what was typed, whatever the server
 * answers; onUse says from the first key on that somebody is at it, until it is done.
 */
export function RestrictForm({ sitePage, onUse }: { sitePage: Schema["SitePage"]; onUse: (isInUse: boolean) => void }) {
  const queries = useQueryClient();
  const site = sitePage.line.id;
  const [target, setTarget] = useState<Limits>(sitePage.remedy ?? shut);
  const [isAdjusting, setAdjusting] = useState(sitePage.remedy === null);
  const [reason, setReason] = useState("");
  const path = { site };
  const plan = useQuery({
    queryKey: ["restrict", site, target],
    queryFn: () =>
      ok(api.POST("/api/sites/{site}/restrict/plan", { params: { path }, body: { target, reason: null } })),
    retry: false,
  });
  const restrict = useMutation({
    mutationFn: (fingerprint: string) =>
      ok(
        api.POST("/api/sites/{site}/restrict", {
          params: { path },
          body: { target, reason: reason || null, fingerprint },
        }),
      ),
    onSuccess: () => {
      setReason("");
      onUse(false);
    },
    onSettled: () => queries.invalidateQueries(),
  });
  const planned = plan.data?.plan;
  const refused = plan.data?.refused ?? [];
  const set = (power: Power, limit: Partial<Limits[Power]>) => {
    setTarget({ ...target, [power]: { ...target[power], ...limit } });
    onUse(true);
  };

  return (
    <section id="restrict" tabIndex={-1} className="mt-5 border-t border-rule pt-3" aria-label="Proposed remedy">
      <h3 className="font-text text-[14px] font-bold">{sitePage.remedy ? "Restrict to policy" : "Restrict"}</h3>
      {sitePage.remedy === null && (
        <p className="text-[13px] text-second">
          A limit is not known, so nobody can tell what policy allows. Choose the access yourself.
        </p>
      )}
      {isAdjusting && (
        <fieldset className="mt-2">
          <legend className="sr-only">The widest access that stays</legend>
          {rows.map((row) => (
            <div key={row.power} className="mb-1.5 grid grid-cols-[1fr_80px_116px] items-center gap-1.5 text-[13px]">
              <span>{row.words}</span>
              <Choice
                label={`${row.words}: inside`}
                words={insides}
                value={target[row.power].inside}
                onChange={(inside) => set(row.power, { inside })}
              />
              <Choice
                label={`${row.words}: outside`}
                words={outsides}
                value={target[row.power].outside}
                onChange={(outside) => set(row.power, { outside })}
              />
            </div>
          ))}
        </fieldset>
      )}
      <ActionFault error={restrict.error} />
      {planned && <EffectList plan={planned} />}
      {refused.length > 0 && (
        <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] text-second">
          {refused.map(({ sentence }) => (
            <li key={sentence}>
              <bdi>{sentence}</bdi>
            </li>
          ))}
        </ul>
      )}
      {plan.error && <p className="mt-1 text-[13px] text-madder">{plan.error.message}</p>}
      {(planned ?? reason) && (
        <label className="mt-2 block text-[13px]">
          Reason, for the journal
          <input
            value={reason}
            maxLength={500}
            onChange={(event) => {
              setReason(event.target.value);
              onUse(true);
            }}
            className="mt-0.5 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2 py-1"
          />
        </label>
      )}
      <div className="mt-3 flex flex-wrap gap-1.5">
        {planned && (
          <Button
            id="remedy"
            look="primary"
            disabled={restrict.isPending || plan.isFetching}
            onClick={() => {
              onUse(true);
              restrict.mutate(planned.fingerprint);
            }}
          >
            {restrict.isPending ? "Queuing the change …" : "Restrict"}
          </Button>
        )}
        {sitePage.remedy !== null && (
          <Button
            onClick={() => {
              setAdjusting(!isAdjusting);
              if (isAdjusting && sitePage.remedy) setTarget(sitePage.remedy);
            }}
            aria-expanded={isAdjusting}
          >
            {isAdjusting ? "Back to the proposal" : "Adjust …"}
          </Button>
        )}
      </div>
    </section>
  );
}

function Choice<T extends string>(props: { label: string; words: T[]; value: T; onChange: (value: T) => void }) {
  return (
    <Select
      isWide
      isTight
      label={props.label}
      value={props.value}
      choices={props.words.map((word) => ({ value: word, words: plain(word) }))}
      onChoose={props.onChange}
    />
  );
}
