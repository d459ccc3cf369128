import { Notice } from "../ui/Notice";
import type { Schema } from "../api/client";
import { counted, inBytes, listed, onDate } from "../ui/words";
import { EffectList } from "../actions/EffectList";

/** Everything that a move to the attic takes away, and until when the site can be restored. */
export function Loss({ plan, host }: { plan: Schema["Plan"]; host: string }) {
  const loss = plan.loss;
  if (!loss) return null;
  const first =
    loss.hostKeepsThrough && loss.hostKeepsThrough < loss.keptThrough
      ? `It can be restored until the end of ${onDate(loss.hostKeepsThrough)}, when ${host} empties its bin. Policy alone would keep it until the end of ${onDate(loss.keptThrough)}.`
      : `It can be restored until the end of ${onDate(loss.keptThrough)}: ${loss.keptBecause}.`;
  return (
    <>
      {loss.lookAlikes.length > 0 && (
        <Notice>
          <h2 className="font-text text-[14.5px] font-bold">Is this the right site?</h2>
          <p>
            {loss.lookAlikes.length === 1 ? "Another site has" : `${loss.lookAlikes.length} other sites have`} almost
            the same name: {listed(loss.lookAlikes)}.
          </p>
        </Notice>
      )}
      <section className="mt-4">
        <h2 className="font-text text-[15px] font-bold">{loss.isOurs ? "What is shut" : "What is removed"}</h2>
        <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] marker:text-rule-strong">
          <li>
            {loss.pages === null ? "Pages: not known" : counted(loss.pages, "page")};{" "}
            {loss.bytes === null ? "size not known" : inBytes(loss.bytes)}
          </li>
          <li>
            {loss.visits === null
              ? "Visits are not reported, so its use is not known"
              : loss.visits === 0
                ? "No visits in the last seven days"
                : `${counted(loss.visits, "visit")} in the last seven days; links to it stop working`}
          </li>
          {loss.group && (
            <li>
              The group {loss.group} is deleted with it{" "}
              {loss.hiddenOpened > 0 && `, opens ${counted(loss.hiddenOpened, "site")} that you may not see`}
              {loss.opened.length > 0 &&
                ` and opens ${counted(loss.opened.length, "other site")}: ${listed(loss.opened.map((site) => `${site.name} (${counted(site.people, "person loses", "people lose")} it)`))}`}
            </li>
          )}
          {loss.records !== null && (
            <li>
              {counted(loss.records, "record")} that must be kept; while the site is in the attic nobody can use them
            </li>
          )}
          {loss.shared.map((piece) => (
            <li key={piece.what}>
              “<bdi>{piece.what}</bdi>” disappears from {counted(piece.sites, "other site")} too
            </li>
          ))}
          {loss.mailAlias && <li>Mail to {loss.mailAlias} is no longer delivered</li>}
        </ul>
        <EffectList plan={plan} of="move-to-attic" />
      </section>
      <section className="mt-4">
        <h2 className="font-text text-[15px] font-bold">How to restore it</h2>
        <p>{first}</p>
        {loss.isOurs && (
          <p className="mt-1">
            {host} has no bin. The site is only shut there, and is deleted when its time in the attic is over.
          </p>
        )}
        {loss.cost && <Notice>It still costs money. {loss.cost}.</Notice>}
        <p className="mt-1 text-second">
          {loss.isOurs
            ? "Until then visitors find it shut."
            : "Until then people who could view it see a page that says so. Everybody else finds no site."}
        </p>
      </section>
    </>
  );
}
