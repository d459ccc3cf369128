import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect, useRef, type KeyboardEvent } from "react";
import { api, ok, type Schema } from "../api/client";
import { counted, inBytes, onDay } from "../ui/words";
import { ForecastChart } from "./ForecastChart";
import { Word } from "../words/Word";
import { AtticEntryNotes } from "./AtticEntryNotes";
import { TimeBar } from "../site-parts/TimeBar";

const columns =
  "grid grid-cols-[46px_minmax(190px,1.6fr)_minmax(120px,1fr)_212px_80px_minmax(110px,0.8fr)] items-center";

/** The sites in the attic, with the days left to restore each; the first to be erased first. */
export function AtticPage() {
  const attic = useQuery({ queryKey: ["attic"], queryFn: () => ok(api.GET("/api/attic")) });
  const { site } = useSearch({ from: "/books/attic" });
  const navigate = useNavigate();
  useEffect(() => {
    document.title = "Attic · Attic Ledger";
  }, []);
  const atticEntries = attic.data?.entries ?? [];
  const found = atticEntries.findIndex((atticEntry) => atticEntry.site === site);
  const place = found >= 0 ? found : 0;
  const shown = site ?? atticEntries[0]?.site;
  const go = (to: number) => {
    const next = atticEntries[Math.min(atticEntries.length - 1, Math.max(0, to))];
    if (next) void navigate({ to: "/attic", search: { site: next.site }, replace: true });
  };
  const soon = atticEntries.filter((atticEntry) => atticEntry.clock && atticEntry.clock.daysLeft < 7).length;
  return (
    <>
      <div className="flex shrink-0 flex-wrap items-baseline gap-x-4 px-5 pt-3.5 pb-2">
        <h1 className="text-[21px]">
          <Word of="attic">Attic</Word>
        </h1>
        <p role="status" className="text-second">
          {attic.data
            ? atticEntries.length === 0
              ? "No site is in the attic."
              : `${counted(atticEntries.length, "site")}, ${inBytes(attic.data.bytes)}${attic.data.unmeasured > 0 ? `  and ${attic.data.unmeasured} of unknown size` : ""}; ${soon} ${soon === 1 ? "reaches its last day" : "reach their last day"} within a week`
            : (attic.error?.message ?? "…")}
        </p>
      </div>
      {attic.data && atticEntries.length > 0 && <ForecastChart days={attic.data.forecast} />}
      <main className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          {attic.data && atticEntries.length === 0 ? (
            <div className="p-8">
              <h2 className="text-[18px]">The attic is empty</h2>
              <p className="mt-2 max-w-[46ch] text-second">
                Sites that somebody moved to the attic appear here. They can be restored until their last day. To move a
                site, open its page from the register or from Your sites.
              </p>
              <Link to="/" className="mt-3 inline-block underline">
                To the register
              </Link>
            </div>
          ) : (
            <AtticEntries atticEntries={atticEntries} place={place} onPlace={go} />
          )}
        </div>
        <aside
          aria-label="Details"
          className="w-[344px] shrink-0 overflow-auto border-l-4 border-double border-margin-rule px-5 py-4"
        >
          {shown !== undefined && attic.data && <Noted key={shown} site={shown} atticEntry={atticEntries[place]} />}
        </aside>
      </main>
    </>
  );
}

function Noted({ site, atticEntry }: { site: number; atticEntry: Schema["AtticEntry"] | undefined }) {
  return (
    <>
      {atticEntry?.site === site && (
        <>
          <h2 className="text-[17px] break-words">
            <bdi>{atticEntry.title}</bdi>
          </h2>
          <p className="font-address text-[12.5px] break-all text-second">{atticEntry.address ?? "no address"}</p>
        </>
      )}
      <AtticEntryNotes site={site} />
    </>
  );
}

function AtticEntries(props: {
  atticEntries: Schema["AtticEntry"][];
  place: number;
  onPlace: (place: number) => void;
}) {
  const { atticEntries, place, onPlace } = props;
  const scroller = useRef<HTMLDivElement>(null);
  useEffect(() => {
    document.getElementById(`attic-${place}`)?.scrollIntoView({ block: "nearest" });
  }, [place]);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = {
      ArrowDown: 1,
      ArrowUp: -1,
      PageDown: 10,
      PageUp: -10,
      Home: -atticEntries.length,
      End: atticEntries.length,
    }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      onPlace(place + step);
    } else if (event.key === "r" && !event.ctrlKey && !event.metaKey && !event.altKey) {
      document.getElementById("remedy")?.focus();
    }
  };
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Sites in the attic"
      aria-rowcount={atticEntries.length + 1}
      aria-activedescendant={`attic-${place}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="min-h-0 flex-1 overflow-auto focus-visible:-outline-offset-2"
    >
      <div
        role="row"
        className={clsx(
          columns,
          "sticky top-0 z-10 h-[30px] border-b border-rule-strong bg-sheet text-[12px] font-semibold text-second",
        )}
      >
        <span role="columnheader" aria-label="Row" className="h-full border-r-4 border-double border-margin-rule" />
        <span role="columnheader" className="pl-2">
          Site
        </span>
        <span role="columnheader">
          <Word of="move to the attic">Moved to the attic</Word>
        </span>
        <span role="columnheader">
          <Word of="restore">Time left to restore</Word>
        </span>
        <span role="columnheader">Storage</span>
        <span role="columnheader">Notes</span>
      </div>
      {atticEntries.map((atticEntry, at) => (
        <div
          key={atticEntry.site}
          id={`attic-${at}`}
          role="row"
          tabIndex={-1}
          aria-rowindex={at + 2}
          aria-selected={at === place}
          onMouseDown={() => onPlace(at)}
          className={clsx(
            columns,
            "relative h-[46px] cursor-default text-[13.5px]",
            at === place ? "bg-bookmark" : Math.floor(at / 3) % 2 === 1 && "bg-bar",
          )}
        >
          {at === place && <span aria-hidden="true" className="absolute inset-y-0 left-0 w-[7px] bg-brass" />}
          <span
            role="gridcell"
            className="flex h-full items-center justify-end border-r-4 border-double border-margin-rule pr-2 text-[12px] text-second"
          >
            {at + 1}
          </span>
          <span role="gridcell" className="min-w-0 pl-2">
            <span className="block truncate font-semibold">
              <bdi>{atticEntry.title}</bdi>
            </span>
            <span className="block truncate font-address text-[12.5px] text-second">
              {atticEntry.address ?? "no address"}
            </span>
          </span>
          <span role="gridcell" className="min-w-0 truncate">
            {onDay(atticEntry.movedToAtticAt ?? atticEntry.requestedAt)}
            {atticEntry.by ? (
              <span className="block truncate text-[12.5px] text-second">by {atticEntry.by.name}</span>
            ) : null}
          </span>
          <span role="gridcell">
            <TimeBar atticEntry={atticEntry} />
          </span>
          <span role="gridcell">{atticEntry.bytes === null ? "not known" : inBytes(atticEntry.bytes)}</span>
          <span role="gridcell" className="flex flex-wrap gap-1">
            {atticEntry.notes.map((note) => (
              <span
                key={note.kind}
                className={clsx(
                  "rounded-[3px] px-1.5 text-[12px] leading-[19px] font-semibold",
                  note.kind === "no-active-owner" ? "bg-madder-pale text-madder" : "bg-slate-pale text-slate",
                )}
              >
                {note.words}
              </span>
            ))}
          </span>
        </div>
      ))}
    </div>
  );
}
