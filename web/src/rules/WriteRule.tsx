import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { ActionFault, Refused } from "../actions/ActionFault";
import type { Schema } from "../api/client";
import { labels } from "../api/labels";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { OneOf } from "../ui/OneOf";
import { Select } from "../ui/Select";
import { counted, onDate } from "../ui/words";
import { LookAgain } from "./LookAgain";
import { useRulePlan, useWriteRule, type RuleRequest } from "./useRules";

type Level = Schema["Level"];

const levels: { value: Level; words: string }[] = [
  { value: "critical", words: "critical: harm is near" },
  { value: "warning", words: "warning: somebody should act" },
  { value: "note", words: "note: good to know" },
];

type EnforcementKind = Schema["EnforcementKind"];

const enforcements = (Object.keys(labels.EnforcementKind) as EnforcementKind[]).map((value) => ({
  value,
  words: labels.EnforcementKind[value],
}));

/** Makes what was tried out a rule, or another version of the rule that it was compared with. */
export function WriteRule(props: {
  scope: string;
  demand: string;
  compared: Schema["RuleOfBook"] | null;
  today: string;
}) {
  const { scope, demand, compared, today } = props;
  const navigate = useNavigate();
  const [isNew, setNew] = useState(compared === null);
  const [title, setTitle] = useState(compared?.rule.title ?? "");
  const [short, setShort] = useState(compared?.rule.short ?? "");
  const [level, setLevel] = useState<Level>(compared?.rule.level ?? "warning");
  const [enforcement, setEnforcement] = useState<EnforcementKind>(compared?.enforcement.kind ?? "report");
  const [days, setDays] = useState(String(compared?.enforcement.days || 14));
  const [from, setFrom] = useState(today);
  const [reason, setReason] = useState("");
  const [looked, setLooked] = useState(false);
  const isComplete = title.trim() !== "" && short.trim() !== "" && from !== "" && (isNew || reason.trim() !== "");
  const request: RuleRequest | null = isComplete
    ? {
        rule: isNew ? null : (compared?.rule.id ?? null),
        text: {
          title,
          short,
          level,
          scope,
          demand,
          enforcement: { kind: enforcement, days: enforcement === "report" ? 0 : Number(days) || 0 },
        },
        from,
        reason: reason.trim() === "" ? null : reason,
      }
    : null;
  const plan = useRulePlan(request);
  const planned = request === null ? undefined : plan.data;
  const write = useWriteRule(({ rule }) => navigate({ to: "/rules/$rule", params: { rule } }));
  const isRefused = (planned?.refused.length ?? 0) > 0;
  return (
    <form
      aria-label="Make it a rule"
      className="mt-5 border-l-[3px] border-slate pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned && request) write.mutate({ request, looked, fingerprint: planned.fingerprint });
      }}
    >
      <h2 className="font-text text-[14.5px] font-bold">Make it a rule</h2>
      {compared && (
        <OneOf
          label="A new rule or a change"
          value={isNew ? "new" : "change"}
          choices={[
            { value: "change", words: `Change ${compared.rule.id}` },
            { value: "new", words: "A new rule" },
          ]}
          onChoose={(value) => {
            setNew(value === "new");
            setTitle(value === "new" ? "" : compared.rule.title);
            setShort(value === "new" ? "" : compared.rule.short);
          }}
        />
      )}
      <Field
        label="Title"
        maxLength={100}
        value={title}
        placeholder="A purpose is set"
        onChange={(event) => setTitle(event.target.value)}
        hint="What a site must satisfy."
      />
      <Field
        label="Short name of its findings"
        maxLength={40}
        value={short}
        placeholder="no purpose"
        onChange={(event) => setShort(event.target.value)}
        hint="What a list says about a site that breaks it."
      />
      <Select<Level> labelled="above" label="Level" value={level} choices={levels} onChoose={setLevel} />
      <Select<EnforcementKind>
        labelled="above"
        label="What follows from a finding"
        value={enforcement}
        choices={enforcements}
        onChoose={setEnforcement}
      />
      {enforcement !== "report" && (
        <Field
          label="Days to answer"
          type="number"
          min={3}
          max={90}
          value={days}
          onChange={(event) => setDays(event.target.value)}
          hint={
            enforcement === "restrict"
              ? "Owners are told by mail, and reminded 2 days before the end. Where nobody answers, access is then restricted to what policy allows."
              : "Owners are told by mail, and reminded 2 days before the end. What nobody answers comes to the desk."
          }
        />
      )}
      <Field
        label="First day"
        type="date"
        min={today}
        value={from}
        onChange={(event) => setFrom(event.target.value)}
        hint="It judges from the beginning of this day on."
      />
      <Reason value={reason} onChange={setReason} isNeeded={!isNew} />
      {plan.error && (
        <p role="alert" className="mt-2 text-madder">
          {plan.error.message}
        </p>
      )}
      {planned && <Refused title="It cannot be written like this" reasons={planned.refused} />}
      {planned && !isRefused && (
        <div className="mt-3 text-[13.5px]">
          <Differences of={planned.differences} />
          {planned.voided > 0 && (
            <p>
              {counted(planned.voided, "exception")} end, because {planned.voided === 1 ? "it was" : "they were"}{" "}
              granted for another demand. Their sites have findings again.
            </p>
          )}
          {enforcement !== "report" && planned.tried && (
            <p>
              {planned.tried.breaks === 0
                ? "No owner is asked now: no site breaks it."
                : `The active owners of ${counted(planned.tried.breaks, "site")} are asked ${whenIt(from, today)}.`}
            </p>
          )}
          {planned.look && <LookAgain at={[planned.look.sentence]} looked={looked} onChange={setLooked} />}
        </div>
      )}
      <ActionFault error={write.error} />
      <Button
        type="submit"
        look="primary"
        className="mt-3"
        disabled={!planned || isRefused || plan.isFetching || write.isPending || (planned.look !== null && !looked)}
      >
        {write.isPending ? "Writing …" : `Put ${planned?.rule ?? "the rule"} in force ${whenIt(from, today)}`}
      </Button>
      {!isComplete && (
        <p className="mt-1 text-[13px] text-second">
          {isNew ? "Give it a title and a short name first." : "Give a reason for the change first."}
        </p>
      )}
    </form>
  );
}

/** What differs from the version before, part by part. */
export function Differences({ of }: { of: Schema["RuleDifference"][] }) {
  if (of.length === 0) return null;
  return (
    <ul>
      {of.map(({ what, before, after }) => (
        <li key={what} className="[overflow-wrap:anywhere]">
          <span className="text-second">{what}:</span> <bdi>{before}</bdi> → <bdi>{after}</bdi>
        </li>
      ))}
    </ul>
  );
}

const whenIt = (from: string, today: string) => (from === "" || from === today ? "today" : `from ${onDate(from)}`);
