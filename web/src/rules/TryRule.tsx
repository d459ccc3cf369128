import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState, type ReactNode } from "react";
import { api, ok, type Schema } from "../api/client";
import type { RulesSearch } from "../api/search";
import { useMe } from "../api/useMe";
import { FilterField } from "../register/FilterField";
import { Button } from "../ui/Button";
import { Select } from "../ui/Select";
import { counted } from "../ui/words";
import { faultOf } from "./faultOf";
import { RuleSentence } from "./RuleSentence";
import { WriteRule } from "./WriteRule";

/** A scope and a demand, and what a rule of them would find now. Nothing is stored; the address carries the rule. */
export function TryRule(props: { tried: RulesSearch; rules: Schema["RuleOfBook"][]; today: string }) {
  const { tried, rules, today } = props;
  const mayWrite = useMe()?.role === "administrator";
  const navigate = useNavigate();
  const [scope, setScope] = useState(tried.scope ?? "");
  const [demand, setDemand] = useState(tried.demand ?? "");
  const [rule, setRule] = useState(tried.rule ?? "");
  const answer = useQuery({
    queryKey: ["tried rule", tried],
    queryFn: () =>
      ok(
        api.POST("/api/rules/try", {
          body: { scope: tried.scope ?? "", demand: tried.demand ?? "", rule: tried.rule ?? null },
        }),
      ),
    enabled: tried.demand !== undefined,
    retry: false,
  });
  const fault = faultOf(answer.error);
  return (
    <section aria-labelledby="try-rule">
      <h1 id="try-rule" className="text-[21px]">
        Try a rule out
      </h1>
      <p className="text-second">
        <Link to="/rules" className="text-ink underline">
          Back to the rule book
        </Link>{" "}
        Shows what a rule would find now. Nothing is stored, and nobody is told. The link to this page carries the rule.
      </p>
      <div className="grid gap-x-8 lg:grid-cols-[minmax(0,420px)_minmax(0,1fr)]">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void navigate({
              to: "/rules",
              search: {
                ...(scope.trim() ? { scope: scope.trim() } : {}),
                ...(demand.trim() ? { demand: demand.trim() } : {}),
                ...(rule ? { rule } : {}),
              },
            });
          }}
        >
          <Part
            name="scope"
            label="Sites where (empty: all sites in use)"
            text={scope}
            onChange={setScope}
            example='classification eq "Guarded"'
            fault={fault?.part === "scope" ? fault : null}
          />
          <Part
            name="demand"
            label="must satisfy"
            text={demand}
            onChange={setDemand}
            example="owners.active.count ge 2"
            fault={fault?.part === "demand" ? fault : null}
          />
          <Select<string>
            labelled="above"
            label="Compared with"
            value={rule}
            choices={[
              { value: "", words: "no rule" },
              ...rules.map(({ rule: { id, title } }) => ({ value: id, words: `${id} ${title}` })),
            ]}
            onChoose={setRule}
          />
          <Button look="primary" type="submit" className="mt-3" disabled={!demand.trim() || answer.isFetching}>
            {answer.isFetching ? "Counting …" : "Try it out"}
          </Button>
          {answer.error && !fault && (
            <p role="alert" className="mt-2 text-madder">
              {answer.error.message}
            </p>
          )}
        </form>
        {answer.data && (
          <div>
            <Result tried={answer.data} scope={tried.scope} rule={tried.rule} />
            {mayWrite && tried.demand !== undefined && (
              <WriteRule
                scope={tried.scope ?? ""}
                demand={tried.demand}
                compared={rules.find((one) => one.rule.id === tried.rule) ?? null}
                today={today}
              />
            )}
          </div>
        )}
      </div>
    </section>
  );
}

function Part(props: {
  name: string;
  label: string;
  text: string;
  onChange: (text: string) => void;
  example: string;
  fault: Schema["FilterProblem"] | null;
}) {
  const { name, fault } = props;
  return (
    <div className="mt-3">
      <label htmlFor={`rule-${name}`} className="font-semibold">
        {props.label}
      </label>
      <RuleSentence label={`The ${name} in words`} text={props.text} onChange={props.onChange} />
      <FilterField
        floats
        inRule
        id={`rule-${name}`}
        text={props.text}
        onChange={props.onChange}
        search={{}}
        describedBy={`rule-${name}-fault`}
        placeholder={props.example}
      />
      <p id={`rule-${name}-fault`} role={fault ? "alert" : undefined} className="text-[13px] text-madder">
        {fault && `Column ${fault.column}: ${fault.message}`}
      </p>
    </div>
  );
}

function Result(props: { tried: Schema["TriedRule"]; scope: string | undefined; rule: string | undefined }) {
  const { tried, scope, rule } = props;
  const isOfAll = scope === undefined;
  return (
    <section aria-label="What it would find" className="mt-4 self-start border-l-[3px] border-slate pl-3">
      <p role="status">
        <FoundSites filter={isOfAll ? undefined : scope} count={tried.covers} /> in scope;{" "}
        <FoundSites filter={tried.filter} count={tried.breaks} /> would break it
        {tried.cannotTell > 0 ? `; for ${counted(tried.cannotTell, "site")} it cannot tell` : ""}.
        {rule && ` Compared with ${rule}: ${counted(tried.added, "finding")} more, ${tried.cleared} fewer.`}
      </p>
      {tried.breaks > 0 && (
        <p className="mt-1 text-[13.5px]">
          By host: {tried.hosts.map(({ name, count }) => `${name} ${count}`).join(", ")}. By unit:{" "}
          {tried.units.map(({ name, count }) => `${name} ${count}`).join(", ")}.
        </p>
      )}
      {tried.missing.length > 0 && (
        <p className="mt-1 text-[13.5px]">
          Where it cannot tell, not known for certain is:{" "}
          {tried.missing.map(({ label, sites }) => `${label} (${sites})`).join(", ")}.
        </p>
      )}
      {tried.examples.length > 0 && (
        <table className="mt-2 w-full text-[13.5px]">
          <thead>
            <tr className="border-b border-rule-strong text-left text-[12px] text-second">
              <th className="py-1 pr-3 font-semibold">{tried.added > 0 ? "First of the new findings" : "First"}</th>
              <th className="font-semibold">Because</th>
            </tr>
          </thead>
          <tbody>
            {tried.examples.map(({ id, title, evidence }) => (
              <tr key={id} className="border-b border-rule align-top">
                <td className="py-1 pr-3">
                  <Link to="/sites/$site" params={{ site: id.toString() }} className="underline">
                    <bdi>{title}</bdi>
                  </Link>
                </td>
                <td className="py-1 text-second">
                  {evidence.map(({ attribute, label, value }, place) => (
                    <span key={attribute}>
                      {place > 0 && "; "}
                      {label}: <bdi>{value || "none"}</bdi>
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function FoundSites({ filter, count }: { filter: string | undefined; count: number }): ReactNode {
  return count === 0 ? (
    "0 sites"
  ) : (
    <Link to="/" search={filter === undefined ? {} : { filter }} className="underline">
      {counted(count, "site")}
    </Link>
  );
}
