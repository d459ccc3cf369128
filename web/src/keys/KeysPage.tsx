import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect } from "react";
import { api, ok, type Wire } from "../api/client";
import { SiteName } from "../ledger/SiteName";
import { counted, inWords, listed, onDate } from "../ledger/words";

type Line = Wire["KeyLineWire"];

const unfit: Record<Wire["Unfit"], string> = {
  outside: "outside only",
  service: "a service only",
  left: "left",
  leaving: "leaving",
  absent: "away",
  "mail-fails": "mail fails",
};

/** Sites without two fit owners, the soonest without anybody first. */
export function KeysPage() {
  const { person, state } = useSearch({ from: "/books/keys" });
  const navigate = useNavigate();
  const keys = useQuery({ queryKey: ["keys"], queryFn: () => ok(api.GET("/api/keys")) });
  useEffect(() => {
    document.title = "Keys · Attic Ledger";
  }, []);
  const lines = (keys.data?.lines ?? []).filter(
    (line) =>
      (!state || line.state === state) && (!person || line.holders.some((holder) => holder.person.id === person)),
  );
  const who = keys.data?.lines.flatMap((line) => line.holders).find((holder) => holder.person.id === person)?.person;
  const pick = (next: { state?: "none" | "single"; person?: number }) => void navigate({ to: "/keys", search: next });
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Keys</h1>
          <p role="status" className="text-second">
            {keys.data
              ? `${keys.data.none} without a fit owner, ${keys.data.single} with one, ${keys.data.fit} with two or more, of ${counted(keys.data.whole, "site")}.`
              : (keys.error?.message ?? "…")}
          </p>
        </div>
        <p className="mt-2 text-[14.5px]">
          Sites{" "}
          <select
            aria-label="Which ownership"
            value={state ?? ""}
            onChange={(event) =>
              pick({
                ...(event.target.value ? { state: event.target.value as "none" | "single" } : {}),
                ...(person ? { person } : {}),
              })
            }
            className="border-b border-dashed border-ink bg-sheet font-semibold"
          >
            <option value="">without two fit owners</option>
            <option value="none">without a fit owner</option>
            <option value="single">with a single fit owner</option>
          </select>
          {person !== undefined && (
            <>
              {" "}
              whose key <b>{who?.name ?? "somebody"}</b> holds{" "}
              <button type="button" className="underline" onClick={() => pick(state ? { state } : {})}>
                anybody
              </button>
            </>
          )}
          , the soonest without anybody first
        </p>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {keys.data && lines.length === 0 ? (
          <div className="p-8">
            <h2 className="text-[18px]">No site is like that</h2>
            <p className="mt-2 text-second">
              Every site that you may see and that the sentence speaks of has two fit owners.
            </p>
          </div>
        ) : (
          <table className="w-full text-[13.5px]">
            <thead className="sticky top-0 z-10 bg-sheet">
              <tr className="h-[30px] text-left text-[12px] text-second">
                <th scope="col" className="w-[96px] border-r-4 border-double border-margin-rule pr-2 text-right">
                  Days left
                </th>
                <th scope="col" className="pl-2">
                  Site
                </th>
                <th scope="col" className="px-2">
                  Unit
                </th>
                <th scope="col" className="px-2">
                  Owners
                </th>
                <th scope="col" className="pr-5 text-right">
                  <span className="sr-only">Deed</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line, place) => (
                <KeyLine key={line.site} line={line} isBar={Math.floor(place / 3) % 2 === 1} />
              ))}
            </tbody>
          </table>
        )}
      </main>
    </>
  );
}

function KeyLine({ line, isBar }: { line: Line; isBar: boolean }) {
  return (
    <tr className={clsx("h-[46px]", isBar && "bg-bar")}>
      <td className="border-r-4 border-double border-margin-rule pr-2 text-right">
        {line.daysLeft === null ? (
          <span className="text-second">{line.sure ? "no day" : "cannot tell"}</span>
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
      <td className="px-2">{line.unit?.name ?? <span className="text-second">none, or not known</span>}</td>
      <td className="px-2">
        <Owners line={line} />
      </td>
      <td className="pr-5 text-right whitespace-nowrap">
        {line.asked ? (
          <Link to="/offers/$offer" params={{ offer: line.asked.offer }} className="underline">
            offered to {line.asked.to.name}
          </Link>
        ) : (
          <Link
            to="/sites/$site/hand-over"
            params={{ site: line.site.toString() }}
            className="rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold hover:bg-bar"
          >
            {line.holders.length === 0 ? "Give the key …" : "Hand over …"}
          </Link>
        )}
      </td>
    </tr>
  );
}

function Owners({ line }: { line: Line }) {
  if (line.holders.length === 0)
    return <span className="text-madder">{line.sure ? "nobody holds a key" : "not known who holds a key"}</span>;
  return (
    <>
      {listed(
        line.holders.map((holder) => (holder.isFit ? holder.person.name : `${holder.person.name} (${holder.note})`)),
      )}
      {line.state === "none" && line.reasons.length > 0 && (
        <span className="block text-[12.5px] text-madder">
          {line.holders.length === 1 ? "not fit" : `${inWords(line.holders.length)} not fit`}:{" "}
          {line.reasons.map((reason) => unfit[reason]).join(", ")}
        </span>
      )}
    </>
  );
}
