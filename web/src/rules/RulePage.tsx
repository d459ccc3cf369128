import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { ActionFault, Refused } from "../actions/ActionFault";
import { labels } from "../api/labels";
import type { Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { capital, counted, inFull, onDate } from "../ui/words";
import { Differences } from "./WriteRule";
import { useRuleHistory, useRulePlan, useUndoRule, useWriteRule, type RuleRequest } from "./useRules";

type Version = Schema["RuleVersion"];

/** A rule: what it says, its numbers, and every version with who wrote it and why. */
export function RulePage() {
  const { rule: id } = useParams({ from: "/books/rules/$rule" });
  const history = useRuleHistory(id);
  const mayWrite = useMe()?.role === "administrator";
  if (!history.data) return <Waiting title={id} error={history.error} />;
  const { rule, numbers, versions, today } = history.data;
  const [last] = versions;
  return (
    <SidePanel title={rule.title} lead={<Standing rule={rule} versions={versions} today={today} />}>
      {last && (
        <Says
          scope={numbers?.scope ?? last.scope}
          demand={numbers?.demand ?? last.demand}
          enforcement={numbers?.enforcement ?? last.enforcement}
          numbers={numbers}
        />
      )}
      {mayWrite && last && (
        <div className="mt-4 flex flex-wrap items-center gap-3">
          <Link
            to="/rules"
            search={{
              ...(last.scope ? { scope: last.scope } : {}),
              demand: last.demand,
              ...(numbers?.isInForce ? { rule: rule.id } : {}),
            }}
            className="underline"
          >
            {last.isOff ? "Use it for a new rule" : "Change it"}
          </Link>
        </div>
      )}
      {mayWrite && last && !last.isOff && <SwitchOff key={last.version} rule={rule.id} today={today} />}
      <Versions rule={rule.id} versions={versions} mayWrite={mayWrite} />
    </SidePanel>
  );
}

function Standing({ rule, versions, today }: { rule: Schema["Rule"]; versions: Version[]; today: string }) {
  const inForce = versions.find((version) => version.isInForce);
  const coming = versions[0];
  const parts = [
    `${rule.id}, ${rule.level}.`,
    inForce ? `In force since ${onDate(inForce.from)}.` : "Not in force.",
    coming && coming !== inForce && coming.from > today
      ? coming.isOff
        ? `Switched off from ${onDate(coming.from)}.`
        : `Version ${coming.version} begins on ${onDate(coming.from)}.`
      : "",
  ];
  return <p>{parts.join(" ")}</p>;
}

function Says(props: {
  scope: string;
  demand: string;
  enforcement: Schema["Enforcement"];
  numbers: Schema["RuleOfBook"] | null;
}) {
  const { scope, demand, enforcement, numbers } = props;
  return (
    <>
      <dl className="mt-4 grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
        <dt className="text-second">{numbers ? "Judges" : "Judged"}</dt>
        <dd className="font-address text-[13px] [overflow-wrap:anywhere]">{scope || "all sites in use"}</dd>
        <dt className="text-second">{numbers ? "Demands" : "Demanded"}</dt>
        <dd className="font-address text-[13px] [overflow-wrap:anywhere]">{demand}</dd>
        <dt className="text-second">Then</dt>
        <dd>{whatThen(enforcement)}</dd>
        {numbers && <Finds numbers={numbers} />}
      </dl>
      {numbers?.fault && (
        <p role="alert" className="mt-2 text-madder">
          It cannot be read, so it cannot tell about any site. {capital(numbers.fault)}. Change it or switch it off.
        </p>
      )}
    </>
  );
}

const whatThen = ({ kind, days }: Schema["Enforcement"]) =>
  kind === "report" ? labels.EnforcementKind[kind] : `${labels.EnforcementKind[kind]}; ${days} days to answer`;

function Finds({ numbers }: { numbers: Schema["RuleOfBook"] }) {
  const { rule, isInForce } = numbers;
  return (
    <>
      <dt className="text-second">{isInForce ? "Finds" : "Would find"}</dt>
      <dd>
        {counted(numbers.covers, "site")} in scope;{" "}
        <Found filter={`breaks eq "${rule.id}"`} count={numbers.breaks} isLink={isInForce} words="break it" />,{" "}
        <Found
          filter={`excepted eq "${rule.id}"`}
          count={numbers.excepted}
          isLink={isInForce}
          words="with an exception"
        />
        ,{" "}
        <Found
          filter={`unsure eq "${rule.id}"`}
          count={numbers.cannotTell}
          isLink={isInForce}
          words="where it cannot tell"
        />
      </dd>
    </>
  );
}

function Found(props: { filter: string; count: number; isLink: boolean; words: string }) {
  const text = `${props.count.toLocaleString("en-GB")} ${props.words}`;
  return props.isLink && props.count > 0 ? (
    <Link to="/" search={{ filter: props.filter }} className="underline">
      {text}
    </Link>
  ) : (
    text
  );
}

function SwitchOff({ rule, today }: { rule: string; today: string }) {
  const [isOpen, setOpen] = useState(false);
  const [from, setFrom] = useState(today);
  const [reason, setReason] = useState("");
  const request: RuleRequest | null =
    isOpen && reason.trim() !== "" && from !== "" ? { rule, text: null, from, reason } : null;
  const plan = useRulePlan(request);
  const planned = request === null ? undefined : plan.data;
  const write = useWriteRule(() => setOpen(false));
  if (!isOpen)
    return (
      <Button className="mt-3" onClick={() => setOpen(true)}>
        Switch {rule} off …
      </Button>
    );
  return (
    <form
      aria-label={`Switch ${rule} off`}
      className="mt-4 border-l-[3px] border-slate pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned && request) write.mutate({ request, looked: false, fingerprint: planned.fingerprint });
      }}
    >
      <h2 className="font-text text-[14.5px] font-bold">Switch {rule} off</h2>
      <p className="text-[13.5px] text-second">
        Its findings end. Its versions stay, and it can be put in force again.
      </p>
      <Field
        label="From the beginning of"
        type="date"
        min={today}
        value={from}
        onChange={(event) => setFrom(event.target.value)}
      />
      <Reason value={reason} onChange={setReason} isNeeded />
      {planned && <Refused title="It cannot be switched off like this" reasons={planned.refused} />}
      {planned && planned.refused.length === 0 && (
        <p className="mt-2">
          {planned.ended === 0 ? "No finding ends with it." : `${counted(planned.ended, "finding")} end with it.`}
        </p>
      )}
      <ActionFault error={write.error} />
      <div className="mt-3 flex gap-1.5">
        <Button
          type="submit"
          look="primary"
          disabled={!planned || planned.refused.length > 0 || plan.isFetching || write.isPending}
        >
          {write.isPending ? "Writing …" : `Switch ${rule} off`}
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </form>
  );
}

function Versions({ rule, versions, mayWrite }: { rule: string; versions: Version[]; mayWrite: boolean }) {
  return (
    <section className="mt-7" aria-label="Versions">
      <h2 className="text-[17px]">Versions</h2>
      <ol className="mt-1 divide-y divide-rule border-y border-rule">
        {versions.map((version, place) => (
          <li key={version.version} className="py-2.5">
            <p>
              <span className="font-semibold">
                Version {version.version}, from {onDate(version.from)}
              </span>
              {version.isInForce && <span className="text-moss"> · in force</span>}
              {version.isOff && <span className="text-ochre"> · switched off</span>}
            </p>
            <p className="text-[13.5px] text-second">
              {version.at ? `${version.by ?? "The product"}, ${inFull(version.at)}` : "Came with the organisation"}
              {version.reason && (
                <>
                  {": "}
                  <bdi>{version.reason}</bdi>
                </>
              )}
            </p>
            <div className="text-[13.5px]">
              <Differences of={version.differences} />
            </div>
            {mayWrite && place === 0 && version.at && <Undo rule={rule} version={version} before={versions[1]} />}
          </li>
        ))}
      </ol>
    </section>
  );
}

function Undo({ rule, version, before }: { rule: string; version: Version; before: Version | undefined }) {
  const undo = useUndoRule();
  const to =
    before === undefined || before.isOff ? `${rule} is switched off` : `${rule} says again what it said before`;
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-3">
      <Button disabled={undo.isPending} onClick={() => undo.mutate({ rule, version: version.version })}>
        {undo.isPending ? "Undoing …" : `Undo version ${version.version}`}
      </Button>
      <span className="text-[13px] text-second">{to}.</span>
      <ActionFault error={undo.error} />
    </div>
  );
}
