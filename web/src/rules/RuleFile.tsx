import { useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import type { Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ui/Button";
import { fileLook, Reason } from "../ui/Field";
import { counted } from "../ui/words";
import { useImportRules, useRuleFilePlan } from "./useRules";
import { LookAgain } from "./LookAgain";
import { Differences } from "./WriteRule";

type State = Schema["RuleOfFileState"];

const mostShown = 50;

/** The rule book as a file: out, and in with what it would do, rule by rule. */
export function RuleFile() {
  const mayWrite = useMe()?.role === "administrator";
  const [book, setBook] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const [looked, setLooked] = useState(false);
  const [done, setDone] = useState<string | null>(null);
  const plan = useRuleFilePlan(book);
  const take = useImportRules(({ added, changed }) => {
    setBook(null);
    setReason("");
    setDone(`${counted(added, "rule")} added, ${changed} changed.`);
  });
  const planned = book === null ? undefined : plan.data;
  const changes = (planned?.added ?? 0) + (planned?.changed ?? 0);
  const again = (planned?.rules ?? []).flatMap(({ id, look }) => (look ? [`${id}: ${look.sentence}`] : []));
  return (
    <section className="mt-8 max-w-[760px]" aria-label="The rule book as a file">
      <h2 className="text-[17px]">The rule book as a file</h2>
      <p className="text-[13px] text-second">
        JSON, described by <span className="font-address">docs/rule-book.schema.json</span>.{" "}
        <a href="/api/rules/file" download className="text-ink underline">
          Export the rule book
        </a>
      </p>
      {mayWrite && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (book !== null && planned) take.mutate({ book, reason, looked, fingerprint: planned.fingerprint });
          }}
        >
          <label className="mt-3 block font-semibold">
            Import a rule book
            <input
              key={done ?? ""}
              type="file"
              accept="application/json,.json"
              className={fileLook}
              onChange={(event) => {
                setDone(null);
                setLooked(false);
                take.reset();
                void event.target.files?.[0]?.text().then(setBook);
              }}
            />
          </label>
          {done && (
            <p role="status" className="mt-2 text-moss">
              {done}
            </p>
          )}
          {plan.error && book !== null && (
            <p role="alert" className="mt-2 text-madder">
              {plan.error.message}
            </p>
          )}
          {planned?.fault && (
            <p role="alert" className="mt-2 text-madder">
              This file is no rule book{planned.fault.place && `, at ${planned.fault.place}`}: {planned.fault.message}.
            </p>
          )}
          {planned && !planned.fault && <Planned plan={planned} />}
          {planned && !planned.fault && planned.refused === 0 && changes > 0 && (
            <>
              {again.length > 0 && <LookAgain at={again} looked={looked} onChange={setLooked} />}
              <Reason value={reason} onChange={setReason} isNeeded />
              <Button
                type="submit"
                look="primary"
                className="mt-3"
                disabled={reason.trim() === "" || plan.isFetching || take.isPending || (again.length > 0 && !looked)}
              >
                {take.isPending ? "Importing …" : `Import ${counted(changes, "rule")}`}
              </Button>
            </>
          )}
          <ActionFault error={take.error} />
        </form>
      )}
    </section>
  );
}

const states: Record<State, string> = {
  added: "new",
  changed: "changed",
  unchanged: "as it is",
  refused: "refused",
};

function Planned({ plan }: { plan: Schema["RuleFilePlan"] }) {
  const differ = plan.rules.filter(({ state }) => state !== "unchanged");
  const shown = differ.slice(0, mostShown);
  return (
    <div className="mt-3 border-l-[3px] border-slate pl-3 text-[13.5px]">
      <p role="status">
        {counted(plan.added, "new rule")}, {plan.changed} changed, {plan.unchanged} as they are
        {plan.refused > 0 ? `, ${plan.refused} refused. Nothing is imported until all can be.` : "."} Rules that are not
        in the file stay.
      </p>
      <ul className="mt-1 divide-y divide-rule">
        {shown.map((rule) => (
          <li key={rule.id} className="py-1.5">
            <span className="font-semibold">
              {rule.id} <bdi>{rule.title}</bdi>
            </span>{" "}
            <span className={rule.state === "refused" ? "text-madder" : "text-second"}>{states[rule.state]}</span>
            {(rule.state === "added" || rule.state === "changed") && (
              <span className="text-second">
                : {counted(rule.after, "site")} would break it{rule.state === "changed" && `, ${rule.before} now`}
              </span>
            )}
            <Differences of={rule.differences} />
            {rule.refused.map(({ sentence }) => (
              <p key={sentence} className="text-madder">
                <bdi>{sentence}</bdi>
              </p>
            ))}
          </li>
        ))}
      </ul>
      {differ.length > shown.length && (
        <p className="text-second">{counted(differ.length - shown.length, "more rule", "more rules")}</p>
      )}
    </div>
  );
}
