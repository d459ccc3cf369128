import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { useState } from "react";
import type { Schema } from "../api/client";
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
          aria-label={`Entry ${entry.number}: its text`}
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
        <>
          <pre className="mt-2 ml-14 rounded-[3px] border border-rule p-2 font-address text-[12px] break-all whitespace-pre-wrap">
            {entry.text}
          </pre>
          <p className="mt-1 ml-14 font-address text-[12px] break-all text-second">SHA-256 {entry.hash}</p>
        </>
      )}
    </li>
  );
}
