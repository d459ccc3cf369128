import { Select } from "../ui/Select";
import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import type { OwnersSearch } from "../api/search";
import { SiteName } from "../site-parts/SiteName";
import { Word } from "../words/Word";
import { counted, digits, listed, onDate } from "../ui/words";

type Line = Schema["OwnersRow"];

/** Sites with fewer than 2 active owners; the ones that lose their last owner soonest first. */
export function OwnersPage() {
  const { person, state } = useSearch({ from: "/books/owners" });
  const navigate = useNavigate();
  const me = useMe();
  const owners = useQuery({ queryKey: ["owners"], queryFn: () => ok(api.GET("/api/owners")) });
  useEffect(() => {
    document.title = "Owners · Attic Ledger";
  }, []);
  const lines = (owners.data?.lines ?? []).filter(
    (line) =>
      (!state || line.state === state) && (!person || line.holders.some((holder) => holder.person.id === person)),
  );
  const who = owners.data?.lines.flatMap((line) => line.holders).find((holder) => holder.person.id === person)?.person;
  const pick = (next: OwnersSearch) => void navigate({ to: "/owners", search: next });
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Owners</h1>
          <p role="status" className="text-second">
            {owners.data
              ? `${owners.data.none} without an active owner, ${owners.data.single} with one, ${owners.data.active} with two or more${owners.data.unknown > 0 ? `, ${owners.data.unknown} whose owners are not all reported` : ""}, of ${counted(owners.data.whole, "site")}.`
              : (owners.error?.message ?? "…")}
          </p>
        </div>
        <p className="mt-2 text-[14.5px]">
          Sites{" "}
          <Select
            isInSentence
            label="Which ownership"
            value={state ?? ""}
            choices={[
              { value: "", words: "with fewer than 2 active owners, or owners not reported" },
              { value: "none", words: "without an active owner" },
              { value: "single", words: "with 1 active owner" },
              { value: "unknown", words: "whose owners are not all reported" },
            ]}
            onChoose={(chosen) => pick({ ...(chosen ? { state: chosen } : {}), ...(person ? { person } : {}) })}
          />
          {person !== undefined && (
            <>
              {" "}
              owned by <b>{who?.name ?? "one person"}</b>{" "}
              <button type="button" className="underline" onClick={() => pick(state ? { state } : {})}>
                (show all owners)
              </button>
            </>
          )}
          , by days until the last active owner leaves
        </p>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {owners.data && lines.length === 0 ? (
          <div className="p-8">
            <h2 className="text-[18px]">No site matches</h2>
            <p className="mt-2 text-second">
              Sites with fewer than 2 active owners appear here, and those whose owners are not all reported. Every site
              in your scope that matches the filters has 2 or more.
            </p>
          </div>
        ) : (
          <table className="w-full text-[13.5px]">
            <thead className="sticky top-0 z-10 bg-sheet">
              <tr className="h-[30px] text-left text-[12px] text-second">
                <th scope="col" className="w-[96px] border-r-4 border-double border-margin-rule pr-2 text-right">
                  <span title="Days until the last active owner leaves">Days left</span>
                </th>
                <th scope="col" className="pl-2">
                  Site
                </th>
                <th scope="col" className="px-2">
                  Unit
                </th>
                <th scope="col" className="px-2">
                  <Word of="active owner">Owners</Word>
                </th>
                <th scope="col" className="pr-5 text-right">
                  <span className="sr-only">Action</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line, place) => (
                <OwnersRow
                  key={line.site}
                  line={line}
                  isBar={Math.floor(place / 3) % 2 === 1}
                  mayAct={me?.mayAct ?? false}
                />
              ))}
            </tbody>
          </table>
        )}
      </main>
    </>
  );
}

const actionLook =
  "rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold hover:bg-bar";

function OwnersRow({ line, isBar, mayAct }: { line: Line; isBar: boolean; mayAct: boolean }) {
  return (
    <tr className={clsx("h-[46px]", isBar && "bg-bar")}>
      <td className="border-r-4 border-double border-margin-rule pr-2 text-right">
        {line.daysLeft === null ? (
          <span className="text-second">{line.isComplete ? "no date" : "cannot tell"}</span>
        ) : (
          <>
            <b className={line.daysLeft < 14 ? "text-madder" : ""}>{line.daysLeft === 0 ? "none" : line.daysLeft}</b>
            {line.lastDay && <span className="block text-[12px] text-second">{onDate(line.lastDay)}</span>}
          </>
        )}
      </td>
      <td className="max-w-0 min-w-[200px] pl-2">
        <SiteName site={line.site} title={line.title} address={line.address} />
      </td>
      <td className="px-2">{line.unit?.name ?? <span className="text-second">not set</span>}</td>
      <td className="px-2">
        <Owners line={line} />
      </td>
      <td className="pr-5 text-right whitespace-nowrap">
        {line.offered ? (
          <Link to="/offers/$offer" params={{ offer: line.offered.offer }} className="underline">
            offered to {line.offered.to.name}
          </Link>
        ) : !mayAct ? null : (
          <span className="inline-flex gap-2">
            {line.holders.length > 0 && (
              <Link to="/sites/$site/hand-over" params={{ site: line.site.toString() }} className={actionLook}>
                Hand over …
              </Link>
            )}
            <Link to="/sites/$site/add-owner" params={{ site: line.site.toString() }} className={actionLook}>
              Add an owner …
            </Link>
          </span>
        )}
      </td>
    </tr>
  );
}

function Owners({ line }: { line: Line }) {
  if (line.holders.length === 0)
    return <span className="text-madder">{line.isComplete ? "no owner" : "owners not reported"}</span>;
  return (
    <>
      {listed(
        line.holders.map((holder) => (holder.isActive ? holder.person.name : `${holder.person.name} (${holder.note})`)),
      )}
      {line.state === "none" && line.reasons.length > 0 && (
        <span className="block text-[12.5px] text-madder">
          {line.holders.length === 1 ? "not active" : `${digits(line.holders.length)} not active`}:{" "}
          {line.reasons.map((reason) => labels.InactiveReason[reason]).join(", ")}
        </span>
      )}
    </>
  );
}
