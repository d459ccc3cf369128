import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import type { Wire } from "../api/client";
import { atMinute, capital } from "../ledger/words";
import { deedWords } from "./deedWords";

/** Entries of the journal, newest first; the text that is hashed stands behind each. */
export function Entries({ entries, withSite = false }: { entries: Wire["EntryWire"][]; withSite?: boolean }) {
  return (
    <ol>
      {entries.map((entry, place) => (
        <li
          key={entry.number}
          className={clsx("border-b border-rule px-5 py-2", withSite && Math.floor(place / 3) % 2 === 1 && "bg-bar")}
        >
          <details>
            <summary className="flex cursor-pointer list-none items-baseline gap-4 text-[13.5px]">
              <span className="w-10 shrink-0 text-right text-[12px] text-second">{entry.number}</span>
              <time className="w-28 shrink-0 text-second" dateTime={entry.at}>
                {atMinute(entry.at)}
              </time>
              <span className="min-w-0 flex-1">
                {capital(deedWords(entry.deed))}
                {entry.reason && <span className="text-second">: “{entry.reason}”</span>}
              </span>
              {withSite && entry.site !== null && (
                <Link
                  to="/sites/$site"
                  params={{ site: entry.site.toString() }}
                  className="w-64 shrink-0 truncate underline"
                >
                  <bdi>{entry.subjectName}</bdi>
                </Link>
              )}
              {withSite && entry.site === null && (
                <span className="w-64 shrink-0 truncate text-second">{entry.subjectName}</span>
              )}
              <span className={clsx("shrink-0 truncate text-second", withSite ? "w-36" : "max-w-28")}>
                {entry.actor}
              </span>
            </summary>
            <pre className="mt-2 ml-14 rounded-[3px] border border-rule p-2 font-address text-[12px] break-all whitespace-pre-wrap">
              {entry.text}
            </pre>
            <p className="mt-1 ml-14 font-address text-[12px] break-all text-second">SHA-256 {entry.hash}</p>
          </details>
        </li>
      ))}
    </ol>
  );
}
