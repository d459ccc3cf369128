import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect, useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { writeClause } from "../register/clause";
import { Button } from "../ui/Button";
import { Select } from "../ui/Select";
import { counted, onDay } from "../ui/words";
import { Word } from "../words/Word";
import { inWords } from "./limitWords";

type Row = Schema["LimitRow"];

const kinds: Record<Row["kind"], string> = {
  organisation: "Organisation",
  host: "Hosts",
  place: "Places",
  unit: "Units",
  classification: "Classifications",
  kind: "Kinds of site",
  "owners-classification": "Owners' classes",
  site: "Sites",
};
const attributes: Partial<Record<Row["kind"], string>> = {
  host: "host",
  unit: "units",
  classification: "classification",
  kind: "kind",
};

/** The book of limits: how far access may go, for what, who enforces it and why. */
export function LimitsPage() {
  const limits = useQuery({ queryKey: ["limits"], queryFn: () => ok(api.GET("/api/limits")) });
  const role = useMe()?.role;
  const mayTry = role === "administrator" || role === "auditor";
  useEffect(() => {
    document.title = "Limits · Attic Ledger";
  }, []);
  const rows = limits.data?.limits ?? [];
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Limits</h1>
          <Link to="/access" className="underline">
            Access of all sites
          </Link>
          <p role="status" className="text-second">
            {limits.data
              ? `${counted(rows.length, "limit")}. Each refuses what it refuses; together they allow what all of them allow.`
              : (limits.error?.message ?? "…")}
          </p>
        </div>
        <p className="mt-1 text-[13px] text-second">
          A limit <Word of="enforced by the host">enforced by the host</Word> stops people. One that is{" "}
          <Word of="policy only">policy only</Word> stops nobody: access beyond it is a finding.
        </p>
      </div>
      <main className="min-h-0 flex-1 overflow-auto pb-10">
        <table className="w-full text-[13.5px]">
          <thead>
            <tr className="h-[30px] text-left text-[12px] text-second">
              <th scope="col" className="pl-5">
                Limit
              </th>
              <th scope="col">Published site</th>
              <th scope="col">Draft</th>
              <th scope="col">Editing</th>
              <th scope="col">Guests invited by</th>
              <th scope="col">Enforced by</th>
              <th scope="col" className="pr-3 text-right">
                Sites
              </th>
              <th scope="col">Why</th>
              <th scope="col" className="pr-5">
                <span className="sr-only">Action</span>
              </th>
            </tr>
          </thead>
          {(Object.keys(kinds) as Row["kind"][])
            .map((kind) => ({ kind, of: rows.filter((row) => row.kind === kind) }))
            .filter(({ of }) => of.length > 0)
            .map(({ kind, of }) => (
              <tbody key={kind}>
                {of.map((row) => (
                  <Limit
                    key={`${row.code} ${row.enforcer}`}
                    row={row}
                    mayTry={mayTry}
                    maySet={role === "administrator"}
                  />
                ))}
              </tbody>
            ))}
        </table>
        {limits.data && rows.length === 0 && (
          <p className="p-8 text-second">
            No limit is set: policy allows whatever the hosts let in. An administrator can add the first one.
          </p>
        )}
        {role === "administrator" && limits.data && <AddLimit targets={limits.data.without} />}
      </main>
    </>
  );
}

function Limit({ row, mayTry, maySet }: { row: Row; mayTry: boolean; maySet: boolean }) {
  const attribute = attributes[row.kind];
  const { limits } = row;
  return (
    <tr className="border-t border-rule align-top">
      <th scope="row" className="py-1.5 pr-3 pl-5 text-left font-semibold">
        <bdi>{row.name}</bdi>
      </th>
      {limits ? (
        (["view", "preview", "edit"] as const).map((power) => (
          <td key={power} className="py-1.5 pr-3">
            {inWords(limits[power])}
          </td>
        ))
      ) : (
        <td colSpan={3} className="py-1.5 pr-3 text-ochre">
          not known: {row.code || "the host"} does not report it
        </td>
      )}
      <td className="py-1.5 pr-3">{limits?.view.guestInviter?.replace("-", " ") ?? ""}</td>
      <td className={clsx("py-1.5 pr-3", row.enforcer === "host" && "font-semibold")}>
        {row.enforcer === "host" ? "the host" : "policy only"}
      </td>
      <td className="py-1.5 pr-3 text-right tabular-nums">
        {row.sites === null ? (
          <span className="text-second">not counted</span>
        ) : (
          <Link
            to="/"
            search={attribute ? { where: [writeClause({ attribute, how: "is", values: [row.code] })] } : {}}
            className="underline"
          >
            {row.sites.toLocaleString("en-GB")}
          </Link>
        )}
      </td>
      <td className="max-w-[220px] py-1.5 pr-3 text-[13px]">
        {row.reason ? (
          <bdi>{row.reason}</bdi>
        ) : (
          <span className="text-second">
            {row.enforcer === "host" ? "as the host reports it" : "no reason recorded"}
          </span>
        )}
        {row.setAt && row.setBy && (
          <span className="block text-second">
            {row.setBy.name}, {onDay(row.setAt)}
          </span>
        )}
      </td>
      <td className="py-1.5 pr-5 whitespace-nowrap">
        {mayTry && (
          <Link
            to="/limits/change"
            search={{ kind: row.kind, code: row.code, enforcer: row.enforcer }}
            className="underline"
          >
            {row.enforcer === "host" || !maySet ? "Try out" : "Change"} …<span className="sr-only"> {row.name}</span>
          </Link>
        )}
      </td>
    </tr>
  );
}

function AddLimit({ targets }: { targets: Schema["LimitTarget"][] }) {
  const navigate = useNavigate();
  const [chosen, setChosen] = useState("");
  const target = targets[Number(chosen)] ?? targets[0];
  if (!target) return null;
  return (
    <form
      className="mt-5 flex flex-wrap items-end gap-3 px-5"
      onSubmit={(event) => {
        event.preventDefault();
        void navigate({ to: "/limits/change", search: { kind: target.kind, code: target.code, enforcer: "policy" } });
      }}
    >
      <Select
        labelled="above"
        label="Add a limit for"
        value={chosen || "0"}
        choices={targets.map(({ name }, at) => ({ value: `${at}`, words: name }))}
        onChoose={setChosen}
      />
      <Button type="submit">Try it out …</Button>
    </form>
  );
}
