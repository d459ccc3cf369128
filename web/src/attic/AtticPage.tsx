import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect, useRef, type KeyboardEvent } from "react";
import { api, ok, type Wire } from "../api/client";
import { counted, inWords, onDay } from "../ledger/words";
import { ForecastChart } from "./ForecastChart";
import { StayNotes } from "./StayNotes";
import { inBytes, TimeBar } from "./TimeBar";

const columns =
  "grid grid-cols-[46px_minmax(190px,1.6fr)_minmax(120px,1fr)_212px_80px_minmax(110px,0.8fr)] items-center";

/** What is put away, the soonest lost first, with the clocks and the way back. */
export function AtticPage() {
  const attic = useQuery({ queryKey: ["attic"], queryFn: () => ok(api.GET("/api/attic")) });
  const { site } = useSearch({ from: "/books/attic" });
  const navigate = useNavigate();
  useEffect(() => {
    document.title = "Attic · Attic Ledger";
  }, []);
  const stays = attic.data?.stays ?? [];
  const found = stays.findIndex((stay) => stay.site === site);
  const place = found >= 0 ? found : 0;
  const shown = site ?? stays[0]?.site;
  const go = (to: number) => {
    const next = stays[Math.min(stays.length - 1, Math.max(0, to))];
    if (next) void navigate({ to: "/attic", search: { site: next.site }, replace: true });
  };
  const soon = stays.filter((stay) => stay.clock && stay.clock.daysLeft < 7).length;
  return (
    <>
      <div className="flex shrink-0 flex-wrap items-baseline gap-x-4 px-5 pt-3.5 pb-2">
        <h1 className="text-[21px]">Attic</h1>
        <p role="status" className="text-second">
          {attic.data
            ? stays.length === 0
              ? "Nothing is put away."
              : `${counted(stays.length, "site")} put away, ${inBytes(attic.data.bytes)}${attic.data.unmeasured > 0 ? ` and ${inWords(attic.data.unmeasured)} of unknown size` : ""}; ${inWords(soon)} can be lost within a week`
            : (attic.error?.message ?? "…")}
        </p>
      </div>
      {attic.data && stays.length > 0 && <ForecastChart days={attic.data.forecast} />}
      <main className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          {attic.data && stays.length === 0 ? (
            <div className="p-8">
              <h2 className="text-[18px]">The attic is empty</h2>
              <p className="mt-2 max-w-[46ch] text-second">
                What is put away lies here until its time is over, and can be brought back. Owners put their sites away
                on their own pages; administrators on a site's folio.
              </p>
              <Link to="/" className="mt-3 inline-block underline">
                To the register
              </Link>
            </div>
          ) : (
            <Stays stays={stays} place={place} onPlace={go} />
          )}
        </div>
        <aside
          aria-label="Margin"
          className="w-[344px] shrink-0 overflow-auto border-l-4 border-double border-margin-rule px-5 py-4"
        >
          {shown !== undefined && attic.data && <Noted key={shown} site={shown} stay={stays[place]} />}
        </aside>
      </main>
    </>
  );
}

function Noted({ site, stay }: { site: number; stay: Wire["StayWire"] | undefined }) {
  return (
    <>
      {stay?.site === site && (
        <>
          <h2 className="text-[17px] break-words">
            <bdi>{stay.title}</bdi>
          </h2>
          <p className="font-address text-[12.5px] break-all text-second">{stay.address ?? "no address"}</p>
        </>
      )}
      <StayNotes site={site} />
    </>
  );
}

function Stays(props: { stays: Wire["StayWire"][]; place: number; onPlace: (place: number) => void }) {
  const { stays, place, onPlace } = props;
  const scroller = useRef<HTMLDivElement>(null);
  useEffect(() => {
    document.getElementById(`stay-${place}`)?.scrollIntoView({ block: "nearest" });
  }, [place]);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10, Home: -stays.length, End: stays.length }[
      event.key
    ];
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
      aria-label="Put-away sites"
      aria-rowcount={stays.length + 1}
      aria-activedescendant={`stay-${place}`}
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
        <span role="columnheader" aria-label="Line" className="h-full border-r-4 border-double border-margin-rule" />
        <span role="columnheader" className="pl-2">
          Site
        </span>
        <span role="columnheader">Put away</span>
        <span role="columnheader">Can be brought back for</span>
        <span role="columnheader">Frees</span>
        <span role="columnheader">Note</span>
      </div>
      {stays.map((stay, at) => (
        <div
          key={stay.site}
          id={`stay-${at}`}
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
              <bdi>{stay.title}</bdi>
            </span>
            <span className="block truncate font-address text-[12.5px] text-second">
              {stay.address ?? "no address"}
            </span>
          </span>
          <span role="gridcell" className="min-w-0 truncate">
            {onDay(stay.putAwayAt ?? stay.askedAt)}
            {stay.by ? <span className="block truncate text-[12.5px] text-second">by {stay.by.name}</span> : null}
          </span>
          <span role="gridcell">
            <TimeBar stay={stay} />
          </span>
          <span role="gridcell">{stay.bytes === null ? "not known" : inBytes(stay.bytes)}</span>
          <span role="gridcell" className="flex flex-wrap gap-1">
            {stay.notes.map((note) => (
              <span
                key={note}
                className={clsx(
                  "rounded-[3px] px-1.5 text-[12px] leading-[19px] font-semibold",
                  note === "no fit owner" ? "bg-madder-pale text-madder" : "bg-slate-pale text-slate",
                )}
              >
                {note}
              </span>
            ))}
          </span>
        </div>
      ))}
    </div>
  );
}
