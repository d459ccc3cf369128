import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { atMinute, onDate, onDay } from "../ui/words";
import { RestoreForm } from "./RestoreForm";
import { Holds } from "./Holds";

type Page = Schema["AtticEntryPage"];

const moving = ["announced", "moving-to-attic", "restoring"];

export const useAtticEntry = (site: number, isWanted = true) =>
  useQuery({
    queryKey: ["attic-entry", site],
    queryFn: async () =>
      (await ok<Page | undefined>(api.GET("/api/sites/{site}/attic-entry", { params: { path: { site } } }))) ?? null,
    enabled: isWanted,
    refetchInterval: (query) => {
      const page = query.state.data;
      return page &&
        (moving.includes(page.atticEntry.state) || (page.atticEntry.state === "restored" && !page.differences))
        ? 1000
        : false;
    },
    retry: false,
  });

/** The attic's notes on one site: who moved it, its two deadlines, what restoring changes, and the comparison afterwards. */
export function AtticEntryNotes({ site }: { site: number }) {
  const page = useAtticEntry(site);
  if (!page.data)
    return (
      <p className="text-second">
        {page.error?.message ?? (page.isSuccess ? "This site has never been in the attic." : "…")}
      </p>
    );
  const { atticEntry } = page.data;
  return (
    <>
      <p className="mt-2">{how(page.data)}</p>
      {atticEntry.reason && <p className="text-second">“{atticEntry.reason}”</p>}
      {atticEntry.clock && <Clocks clock={atticEntry.clock} host={atticEntry.host} />}
      <p role="status" className="mt-3 font-semibold">
        {status(page.data)}
      </p>
      {atticEntry.mayStop && <StopForm site={site} />}
      {page.data.differences && <Comparison differences={page.data.differences} />}
      {atticEntry.mayRestore && (
        <div className="mt-4 border-t border-rule pt-1">
          <RestoreForm key={atticEntry.state} page={page.data} />
        </div>
      )}
      {(atticEntry.mayHold || atticEntry.holds.length > 0) && atticEntry.state !== "announced" && (
        <Holds site={site} holds={atticEntry.holds} mayHold={atticEntry.mayHold} />
      )}
      <p className="mt-4 text-[13px]">
        <Link to="/sites/$site" params={{ site: site.toString() }} className="underline">
          Its site page
        </Link>
      </p>
    </>
  );
}

function how({ atticEntry }: Page): string {
  const who = atticEntry.by ? atticEntry.by.name : "Somebody";
  const where = atticEntry.atHost ? ` at ${atticEntry.host} itself` : atticEntry.byOwner ? ", its owner," : "";
  const when = atticEntry.movedToAtticAt ?? atticEntry.requestedAt;
  const did = atticEntry.isOurs ? "shut" : "deleted";
  return atticEntry.atHost
    ? `${who} ${did} it${where} on ${onDay(when)}.`
    : `${who}${where} moved it to the attic on ${onDay(when)}.`;
}

function status(page: Page): string {
  const { atticEntry } = page;
  switch (atticEntry.state) {
    case "announced":
      return `It moves to the attic at ${atMinute(atticEntry.stoppableUntil ?? atticEntry.requestedAt)}, unless somebody stops it.`;
    case "moving-to-attic":
      return `The change to ${atticEntry.isOurs ? "shut" : "delete"} it is queued or sent to ${atticEntry.host}.`;
    case "restoring":
      return `The change to restore it is queued or sent to ${atticEntry.host}.`;
    case "restored":
      return `It has been in use again since ${atMinute(page.endedAt ?? atticEntry.requestedAt)}.`;
    case "stopped":
      return atticEntry.words ?? "Somebody stopped the move to the attic.";
    case "not-done":
      return `${atticEntry.host} refused to delete it: ${atticEntry.words ?? ""}`;
    case "erased":
      return `${atticEntry.host} has erased it. Only an archive copy could bring its content back.`;
    default:
      return atticEntry.words
        ? `${atticEntry.host} did not restore it: ${atticEntry.words}`
        : `It is ${labels.AtticState[atticEntry.state]}.`;
  }
}

function Clocks({ clock, host }: { clock: Schema["Clock"]; host: string }) {
  return (
    <section className="mt-3">
      <p className="border-l-[3px] border-rule-strong pl-3">{clock.words}</p>
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-3 text-[13px]">
        <dt className="text-second">Policy keeps it until the end of</dt>
        <dd className={clock.hostIsFirst ? "" : "font-bold"}>{onDate(clock.organisation)}</dd>
        <dt className="text-second">{host} can restore it until</dt>
        <dd className={clock.hostIsFirst ? "font-bold" : ""}>{clock.host ? atMinute(clock.host) : "not known"}</dd>
      </dl>
    </section>
  );
}

export function StopForm({ site, link }: { site: number; link?: string | undefined }) {
  const path = { site };
  const stop = useAction(() =>
    api.POST("/api/sites/{site}/move-to-attic/stop", {
      params: { path },
      body: { link: link ?? null },
    }),
  );
  return (
    <div className="mt-2">
      <ActionFault error={stop.error} />
      <Button look="primary" disabled={stop.isPending} onClick={() => stop.mutate()}>
        Stop the move to the attic
      </Button>
    </div>
  );
}

function Comparison({ differences }: { differences: Schema["Difference"][] }) {
  const unmeant = differences.filter((one) => !one.meant);
  return (
    <section className={`mt-4 border-l-[3px] pl-3 ${unmeant.length === 0 ? "border-moss" : "border-madder"}`}>
      <h3 className="font-text text-[14.5px] font-bold">
        {unmeant.length > 0
          ? "It differs from the site that was moved to the attic"
          : differences.length === 0
            ? "It is exactly as it was before"
            : "It is as it was before, except for the intended changes"}
      </h3>
      {differences.length > 0 && (
        <ul className="mt-1 list-disc pl-4 text-[13px]">
          {differences.map((one) => (
            <li key={one.what} className={one.meant ? "" : "text-madder"}>
              <bdi>{one.what}</bdi>: {one.before} before, {one.after} now{one.meant ? " (intended)" : ""}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
