import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ApiError, ok, type Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { EffectList } from "./EffectList";

type Limits = Wire["LimitsWire"];
type Power = keyof Limits;

const rows: { power: Power; words: string }[] = [
  { power: "view", words: "Read the live copy" },
  { power: "preview", words: "Read the working copy" },
  { power: "edit", words: "Edit" },
];
const insides: Wire["InsideWord"][] = ["nobody", "named-in-unit", "named", "unit", "staff"];
const outsides: Wire["OutsideLevel"][] = ["no-one", "named-guests", "partners", "passers-by"];
const plain = (word: string) => (word === "passers-by" ? word : word.replaceAll("-", " "));

const shut: Limits = {
  view: { inside: "staff", outside: "no-one", proof: "signed-in" },
  preview: { inside: "staff", outside: "no-one", proof: "signed-in" },
  edit: { inside: "named", outside: "no-one", proof: "signed-in" },
};

/** The remedy and its predicted effect; adjusted by hand where wished. What was typed stays, whatever the server answers. */
export function NarrowForm({ folio }: { folio: Wire["FolioWire"] }) {
  const queries = useQueryClient();
  const site = folio.line.id;
  const [target, setTarget] = useState<Limits>(folio.remedy ?? shut);
  const [isAdjusting, setAdjusting] = useState(folio.remedy === null);
  const [reason, setReason] = useState("");
  const path = { site };
  const plan = useQuery({
    queryKey: ["narrow", site, target],
    queryFn: () => ok(api.POST("/api/sites/{site}/narrow/plan", { params: { path }, body: { target, reason: null } })),
    retry: false,
  });
  const narrow = useMutation({
    mutationFn: (fingerprint: string) =>
      ok(
        api.POST("/api/sites/{site}/narrow", {
          params: { path, header: { "Idempotency-Key": crypto.randomUUID() } },
          body: { target, reason: reason || null, fingerprint },
        }),
      ),
    onSuccess: () => setReason(""),
    onSettled: () => queries.invalidateQueries(),
  });
  const planned = plan.data?.plan;
  const refused = plan.data?.refused ?? [];
  const isOther = narrow.error instanceof ApiError && narrow.error.status === 409;
  const set = (power: Power, limit: Partial<Limits[Power]>) =>
    setTarget({ ...target, [power]: { ...target[power], ...limit } });

  return (
    <section className="mt-5 border-t border-rule pt-3" aria-label="Proposed remedy">
      <h3 className="font-text text-[14px] font-bold">
        {folio.remedy ? "Narrow it to what the house allows" : "Narrow it"}
      </h3>
      {folio.remedy === null && (
        <p className="text-[13px] text-second">
          A layer is not known, so the house's limit cannot be told. Choose how far it may reach.
        </p>
      )}
      {isAdjusting && (
        <fieldset className="mt-2">
          <legend className="sr-only">How far it may reach at the most</legend>
          {rows.map((row) => (
            <div key={row.power} className="mb-1.5 grid grid-cols-[1fr_88px_104px] items-center gap-1.5 text-[13px]">
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
      {isOther && (
        <p role="alert" className="mt-2 border-l-[3px] border-ochre bg-ochre-pale px-2 py-1 text-[13px]">
          Something has changed since you looked, so nothing was done. This is what it comes to now; what you typed is
          kept.
        </p>
      )}
      {narrow.error && !isOther && (
        <p role="alert" className="mt-2 text-[13px] text-madder">
          {narrow.error instanceof ApiError && narrow.error.status === 422
            ? ((narrow.error.body as Partial<Wire["RefusalWire"]>).reasons?.join(" ") ?? narrow.error.message)
            : narrow.error.message}
        </p>
      )}
      {planned && <EffectList plan={planned} />}
      {refused.length > 0 && (
        <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] text-second">
          {refused.map((sentence) => (
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
            onChange={(event) => setReason(event.target.value)}
            className="mt-0.5 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2 py-1"
          />
        </label>
      )}
      <div className="mt-3 flex flex-wrap gap-1.5">
        {planned && (
          <Button
            id="remedy"
            look="deed"
            disabled={narrow.isPending || plan.isFetching}
            onClick={() => narrow.mutate(planned.fingerprint)}
          >
            {narrow.isPending ? "Asking …" : "Narrow it"}
          </Button>
        )}
        {folio.remedy !== null && (
          <Button
            onClick={() => {
              setAdjusting(!isAdjusting);
              if (isAdjusting && folio.remedy) setTarget(folio.remedy);
            }}
            aria-expanded={isAdjusting}
          >
            {isAdjusting ? "As proposed" : "Adjust …"}
          </Button>
        )}
      </div>
    </section>
  );
}

function Choice<T extends string>(props: { label: string; words: T[]; value: T; onChange: (value: T) => void }) {
  return (
    <select
      aria-label={props.label}
      value={props.value}
      onChange={(event) => props.onChange(event.target.value as T)}
      className="w-full rounded-[4px] border border-rule-strong bg-sheet px-1 py-1"
    >
      {props.words.map((word) => (
        <option key={word} value={word}>
          {plain(word)}
        </option>
      ))}
    </select>
  );
}
