import type { Wire } from "../api/client";
import { counted, inWords, listed, onDate } from "../ledger/words";
import { EffectList } from "../margin/EffectList";
import { inBytes } from "./TimeBar";

/** All that goes with a site that is put away, and until when it can come back. */
export function Loss({ plan, host }: { plan: Wire["PlanWire"]; host: string }) {
  const loss = plan.loss;
  if (!loss) return null;
  const first =
    loss.hostKeepsThrough && loss.hostKeepsThrough < loss.keptThrough
      ? `It can be brought back through ${onDate(loss.hostKeepsThrough)}, because ${host} clears its bin then. The house itself would keep it through ${onDate(loss.keptThrough)}.`
      : `It can be brought back through ${onDate(loss.keptThrough)}: ${loss.keptBecause}.`;
  return (
    <>
      {loss.lookAlikes.length > 0 && (
        <section className="mt-4 border-l-[3px] border-ochre bg-ochre-pale px-3 py-1.5">
          <h2 className="font-text text-[14.5px] font-bold">Is it the right one?</h2>
          <p>
            {loss.lookAlikes.length === 1 ? "Another site is" : `${inWords(loss.lookAlikes.length)} others are`} called
            almost the same: {listed(loss.lookAlikes)}.
          </p>
        </section>
      )}
      <section className="mt-4">
        <h2 className="font-text text-[15px] font-bold">{loss.isOurs ? "What is shut" : "What goes"}</h2>
        <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] marker:text-rule-strong">
          <li>
            {loss.pages === null ? "Pages: not known" : counted(loss.pages, "page")};{" "}
            {loss.bytes === null ? "size not known" : inBytes(loss.bytes)}
          </li>
          <li>
            {loss.visits === null
              ? "Visits are not measured, so it cannot be told how much it is used"
              : loss.visits === 0
                ? "No visits in the last seven days"
                : `${counted(loss.visits, "visit")} in the last seven days; every link to it leads nowhere meanwhile`}
          </li>
          {loss.group && (
            <li>
              The group {loss.group} goes with it
              {loss.hiddenOpened > 0 && `, opens ${counted(loss.hiddenOpened, "site")} that you may not see`}
              {loss.opened.length > 0 &&
                ` and opens ${counted(loss.opened.length, "other site")}: ${listed(loss.opened.map((site) => `${site.name} (${counted(site.people, "person loses", "people lose")} it)`))}`}
            </li>
          )}
          {loss.records !== null && (
            <li>{counted(loss.records, "record")} that must be kept; nobody can claim anything by them</li>
          )}
          {loss.shared.map((piece) => (
            <li key={piece.what}>
              “<bdi>{piece.what}</bdi>” goes from {counted(piece.sites, "other site")} too, where it also stands
            </li>
          ))}
          {loss.mailAlias && <li>Mail to {loss.mailAlias} no longer arrives</li>}
        </ul>
        <EffectList plan={plan} way="away" />
      </section>
      <section className="mt-4">
        <h2 className="font-text text-[15px] font-bold">The way back</h2>
        <p>{first}</p>
        {loss.isOurs && (
          <p className="mt-1">
            {host} deletes for good, so nothing final is sent there: the site is shut, and stays ours until it is
            cleared out.
          </p>
        )}
        {loss.cost && (
          <p className="mt-1 border-l-[3px] border-ochre bg-ochre-pale px-3 py-1.5">
            It goes on costing money. {loss.cost}.
          </p>
        )}
        <p className="mt-1 text-second">
          {loss.isOurs
            ? "Meanwhile visitors find it shut."
            : "Meanwhile those who could read it find a page that says so; to everybody else it is as if it had never been."}
        </p>
      </section>
    </>
  );
}
