import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { api, ok, type Wire } from "../api/client";
import { StayNotes } from "../attic/StayNotes";
import { onDay, underTitle } from "../ledger/words";
import { Arithmetic } from "./Arithmetic";
import { Excuses } from "./Excuses";
import { Fault } from "./Fault";
import { NarrowForm } from "./NarrowForm";
import { OrderProgress } from "./OrderProgress";

const copies = { view: "live copy", preview: "working copy", edit: "editing" };

/** A try that the host did not answer writes no entry, so an order under way is looked at by the second. */
const isMoving = (folio: Wire["FolioWire"] | undefined) =>
  folio?.orders.some((order) => ["asked", "sent", "confirmed"].includes(order.state)) ?? false;

export const useFolio = (site: number) =>
  useQuery({
    refetchInterval: (query) => (isMoving(query.state.data) ? 1000 : false),
    queryKey: ["folio", site],
    queryFn: () => ok(api.GET("/api/sites/{site}", { params: { path: { site } } })),
  });

/** The product's notes on the line in focus: the verdict, the arithmetic, the remedy and its predicted effect. */
export function Margin({ site }: { site: number }) {
  const folio = useFolio(site);
  if (!folio.data) {
    return <p className="p-5 text-second">{folio.error ? folio.error.message : "…"}</p>;
  }
  return (
    <div className="px-5 py-4">
      <h2 className="text-[17px] break-words">
        <Link to="/sites/$site" params={{ site: site.toString() }} className="hover:underline">
          <bdi>{folio.data.line.title}</bdi>
        </Link>
      </h2>
      <p className="font-address text-[12.5px] break-all text-second">{underTitle(folio.data.line)}</p>
      <Notes folio={folio.data} />
    </div>
  );
}

const otherDeed =
  "rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold text-ink hover:bg-bar";

/** Shared by the register's margin and the folio's. */
export function Notes({ folio, arithmetic = true }: { folio: Wire["FolioWire"]; arithmetic?: boolean }) {
  // The strongest power that reaches too far decides which arithmetic is shown first.
  const shown = [...folio.passages].reverse().find((passage) => passage.beyond === "yes") ?? folio.passages[0];
  const beyond = folio.passages.some((passage) => passage.beyond === "yes");
  const wide = beyond || folio.line.findings.some((finding) => finding.rule === "R-02" && !finding.cannotTell);
  if (folio.line.fault) {
    return (
      <>
        <Fault why={folio.line.fault} />
        <OrderProgress orders={folio.orders} site={folio.line.id} mayAct={false} host={folio.line.host} />
      </>
    );
  }
  if (folio.existence !== "here") return <StayNotes site={folio.line.id} />;
  return (
    <>
      {folio.findings.map((explained) => (
        <section
          key={explained.finding.rule}
          className={clsx(
            "mt-4 border-l-[3px] pl-3",
            explained.finding.cannotTell || explained.isExcused
              ? "border-rule-strong"
              : { must: "border-madder", should: "border-ochre", look: "border-slate" }[explained.finding.level],
          )}
        >
          <h3 className="font-text text-[14.5px] font-bold">
            {explained.isExcused && <span className="text-second">Excused: </span>}
            {explained.headline}
          </h3>
          <p className="mt-0.5 text-[13px] text-second">
            {explained.detail} {explained.finding.rule}
            {explained.finding.since ? `, seen since ${onDay(explained.finding.since)}` : ""}.
          </p>
          <Excuses site={folio.line.id} explained={explained} mayExcuse={folio.mayExcuse} />
        </section>
      ))}
      {folio.findings.length === 0 && (
        <p className="mt-4 border-l-[3px] border-moss pl-3 text-moss">No house rule is broken here.</p>
      )}
      {arithmetic && shown && (
        <section className="mt-5">
          <h3 className="font-text text-[14px] font-bold">Who gets in: {copies[shown.power as keyof typeof copies]}</h3>
          <Arithmetic passage={shown} />
          {folio.front && shown.power === "view" && (
            <p className="mt-1 text-[13px]">
              <a className="underline" href={folio.front} target="_blank" rel="noreferrer">
                See it as a passer-by
              </a>
            </p>
          )}
        </section>
      )}
      <OrderProgress orders={folio.orders} site={folio.line.id} mayAct={folio.mayAct} host={folio.line.host} />
      {folio.mayAct && wide && <NarrowForm folio={folio} />}
      {folio.mayAct && (
        <p className="mt-5 flex flex-wrap gap-2 border-t border-rule pt-3">
          <Link to="/sites/$site/hand-over" params={{ site: folio.line.id.toString() }} className={otherDeed}>
            Hand over the key …
          </Link>
          <Link to="/sites/$site/put-away" params={{ site: folio.line.id.toString() }} className={otherDeed}>
            Put away …
          </Link>
        </p>
      )}
    </>
  );
}
