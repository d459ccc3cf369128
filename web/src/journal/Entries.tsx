import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { Fragment, useState } from "react";
import type { Schema } from "../api/client";
import { UndoChange } from "../details/ChangeProgress";
import { atMinute, capital } from "../ui/words";

/** Entries of the journal, newest first, each with the text that is hashed. */
export function Entries({ entries, withSite = false }: { entries: Schema["JournalEntry"][]; withSite?: boolean }) {
  return (
    <ol>
      {entries.map((entry, place) => (
        <EntryItem
          key={entry.number}
          entry={entry}
          withSite={withSite}
          isBanded={withSite && Math.floor(place / 3) % 2 === 1}
        />
      ))}
    </ol>
  );
}

function EntryItem({
  entry,
  withSite,
  isBanded,
}: {
  entry: Schema["JournalEntry"];
  withSite: boolean;
  isBanded: boolean;
}) {
  const [isOpen, setOpen] = useState(false);
  return (
    <li className={clsx("border-b border-rule px-5 py-2", isBanded && "bg-bar")}>
      <div className="flex items-baseline gap-4 text-[13.5px]">
        <button
          type="button"
          aria-expanded={isOpen}
          aria-label={`Entry ${entry.number}: its details`}
          onClick={() => setOpen(!isOpen)}
          className="w-10 shrink-0 text-right text-[12px] text-second underline decoration-rule-strong underline-offset-2"
        >
          {entry.number}
        </button>
        <time className="w-28 shrink-0 text-second" dateTime={entry.at}>
          {atMinute(entry.at)}
        </time>
        <span className="min-w-0 flex-1">
          {capital(entry.label)}
          {entry.changed.length > 0 && <span className="text-second">: {entry.changed.join(", ")}</span>}
          {entry.reason && <span className="text-second">: “{entry.reason}”</span>}
        </span>
        {withSite && (
          <span className="w-64 shrink-0 truncate text-second">
            {entry.site === null ? (
              entry.subjectName
            ) : (
              <Link to="/sites/$site" params={{ site: entry.site.toString() }} className="text-ink underline">
                <bdi>{entry.subjectName}</bdi>
              </Link>
            )}
          </span>
        )}
        <span className={clsx("shrink-0 truncate text-second", withSite ? "w-36" : "max-w-28")}>{entry.actor}</span>
      </div>
      {isOpen && (
        <div className="mt-1.5 ml-14">
          {entry.details.length > 0 && (
            <dl className="grid max-w-[760px] grid-cols-[180px_1fr] gap-x-4 gap-y-0.5 text-[13px]">
              {entry.details.map((detail, place) => (
                <Fragment key={place}>
                  <dt className="text-second">{capital(detail.what)}</dt>
                  <dd>
                    <bdi>{detail.before === null ? detail.after : `${detail.before} before, ${detail.after} now`}</bdi>
                  </dd>
                </Fragment>
              ))}
            </dl>
          )}
          {entry.undo?.hostChange && <UndoChange id={entry.undo.hostChange} isQueued={entry.undo.state === "queued"} />}
          {entry.undo && !entry.undo.hostChange && entry.site !== null && (
            <p className="mt-1.5 text-[13px]">
              <Link to="/attic" search={{ site: entry.site }} className="font-semibold underline">
                Restore it …
              </Link>{" "}
              {entry.undo.until ? `Possible until ${atMinute(entry.undo.until)}.` : ""}
            </p>
          )}
          <details className="mt-1.5">
            <summary className="min-h-6 cursor-pointer text-[13px] text-second">The text that is hashed</summary>
            <pre className="mt-1 rounded-[3px] border border-rule p-2 font-address text-[12px] break-all whitespace-pre-wrap">
              {entry.text}
            </pre>
            <p className="mt-1 font-address text-[12px] break-all text-second">SHA-256 {entry.hash}</p>
          </details>
        </div>
      )}
    </li>
  );
}
