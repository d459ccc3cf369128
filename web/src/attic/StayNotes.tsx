import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { atMinute, onDate, onDay } from "../ledger/words";
import { BringBackForm } from "./BringBackForm";
import { Holds } from "./Holds";
import { stayWords } from "./TimeBar";

type Page = Wire["StayPageWire"];

const moving = ["announced", "going-away", "returning"];

export const useStay = (site: number, isWanted = true) =>
  useQuery({
    queryKey: ["stay", site],
    queryFn: async () =>
      (await ok<Page | undefined>(api.GET("/api/sites/{site}/stay", { params: { path: { site } } }))) ?? null,
    enabled: isWanted,
    refetchInterval: (query) => {
      const page = query.state.data;
      return page && (moving.includes(page.stay.state) || (page.stay.state === "back" && !page.differences))
        ? 1000
        : false;
    },
    retry: false,
  });

/** The attic's notes on one site: how it went, its two clocks, what coming back changes, and afterwards the comparison. */
export function StayNotes({ site }: { site: number }) {
  const page = useStay(site);
  if (!page.data)
    return (
      <p className="text-second">{page.error?.message ?? (page.isSuccess ? "It never was in the attic." : "…")}</p>
    );
  const { stay } = page.data;
  return (
    <>
      <p className="mt-2">{how(page.data)}</p>
      {stay.reason && <p className="text-second">“{stay.reason}”</p>}
      {stay.clock && <Clocks clock={stay.clock} host={stay.host} />}
      <p role="status" className="mt-3 font-semibold">
        {status(page.data)}
      </p>
      {stay.mayStop && <StopForm site={site} />}
      {page.data.differences && <Comparison differences={page.data.differences} />}
      {stay.mayBringBack && (
        <div className="mt-4 border-t border-rule pt-1">
          <BringBackForm key={stay.state} page={page.data} />
        </div>
      )}
      {(stay.mayHold || stay.holds.length > 0) && stay.state !== "announced" && (
        <Holds site={site} holds={stay.holds} mayHold={stay.mayHold} />
      )}
      <p className="mt-4 text-[13px]">
        <Link to="/sites/$site" params={{ site: site.toString() }} className="underline">
          Its folio
        </Link>
      </p>
    </>
  );
}

function how({ stay }: Page): string {
  const who = stay.by ? stay.by.name : "Somebody";
  const where = stay.atHost ? ` at ${stay.host} itself` : stay.byOwner ? ", its owner," : "";
  const when = stay.putAwayAt ?? stay.askedAt;
  const did = stay.isOurs ? "shut" : "deleted";
  return stay.atHost ? `${who} ${did} it${where} on ${onDay(when)}.` : `${who}${where} put it away on ${onDay(when)}.`;
}

function status(page: Page): string {
  const { stay } = page;
  switch (stay.state) {
    case "announced":
      return `It is put away at ${atMinute(stay.stoppableUntil ?? stay.askedAt)}, unless it is stopped.`;
    case "going-away":
      return `${stay.host} is being asked to ${stay.isOurs ? "shut" : "delete"} it.`;
    case "returning":
      return `${stay.host} is being asked to bring it back.`;
    case "back":
      return `It is back in use since ${atMinute(page.endedAt ?? stay.askedAt)}.`;
    case "stopped":
      return stay.words ?? "Putting it away was stopped.";
    case "not-done":
      return `${stay.host} refused to delete it: ${stay.words ?? ""}`;
    case "cleared":
      return `${stay.host} has cleared it for good; only a kept copy could bring it back.`;
    default:
      return stay.words ? `${stay.host} did not bring it back: ${stay.words}` : `It is ${stayWords[stay.state]}.`;
  }
}

function Clocks({ clock, host }: { clock: Wire["ClockWire"]; host: string }) {
  return (
    <section className="mt-3">
      <p className="border-l-[3px] border-rule-strong pl-3">{clock.words}</p>
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-3 text-[13px]">
        <dt className="text-second">The house keeps it through</dt>
        <dd className={clock.hostIsFirst ? "" : "font-bold"}>{onDate(clock.house)}</dd>
        <dt className="text-second">{host} can bring it back until</dt>
        <dd className={clock.hostIsFirst ? "font-bold" : ""}>{clock.host ? atMinute(clock.host) : "not known"}</dd>
      </dl>
    </section>
  );
}

export function StopForm({ site, link }: { site: number; link?: string | undefined }) {
  const path = { site };
  const stop = useDeed(() =>
    api.POST("/api/sites/{site}/put-away/stop", { params: { path, header: newKey() }, body: { link: link ?? null } }),
  );
  return (
    <div className="mt-2">
      <DeedFault error={stop.error} />
      <Button look="deed" disabled={stop.isPending} onClick={() => stop.mutate()}>
        Stop it: leave the site in use
      </Button>
    </div>
  );
}

function Comparison({ differences }: { differences: Wire["DifferenceWire"][] }) {
  const unmeant = differences.filter((one) => !one.meant);
  return (
    <section className={`mt-4 border-l-[3px] pl-3 ${unmeant.length === 0 ? "border-moss" : "border-madder"}`}>
      <h3 className="font-text text-[14.5px] font-bold">
        {unmeant.length > 0
          ? "It did not come back as it went"
          : differences.length === 0
            ? "It came back exactly as it went"
            : "It came back as it went, but for what was meant"}
      </h3>
      {differences.length > 0 && (
        <ul className="mt-1 list-disc pl-4 text-[13px]">
          {differences.map((one) => (
            <li key={one.what} className={one.meant ? "" : "text-madder"}>
              <bdi>{one.what}</bdi>: {one.before} before, {one.after} now{one.meant ? " (meant)" : ""}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
