import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Wire } from "../api/client";
import { meQuery } from "../api/useMe";
import { Sheet, Waiting } from "../ledger/Sheet";
import { ago, counted, inWords, listed } from "../ledger/words";
import { Part } from "./Part";
import { HeldBack } from "./HeldBack";
import { ReadNow } from "./ReadNow";
import { useSources } from "./useSources";
import { WhyNot } from "./WhyNot";

type Source = Wire["SourceWire"];

const MOST_REFUSED = 10;

/** Where the register has its facts from, how complete that is, and what each source is like. */
export function SourcesPage() {
  const me = useQuery(meQuery);
  const sources = useSources();
  const [weekAgo] = useState(() => new Date(Date.now() - 7 * 86_400_000).toISOString().slice(0, 10));
  if (!sources.data || !me.data) return <Waiting title="Sources" error={sources.error} />;
  const incomplete = sources.data.filter((source) => source.complete === false);
  const seesAll = me.data.role === "administrator" || me.data.role === "auditor";
  return (
    <Sheet
      title="Sources"
      lead={
        sources.data.length === 0
          ? "No source is connected yet. Name one in the server's settings, or read a bundle in."
          : incomplete.length > 0
            ? `${listed(incomplete.map((source) => source.name))} could not be read to the end: no site vanishes by that, and what is new there is not seen yet.`
            : `The register knows what these ${inWords(sources.data.length)} say, and nothing else.`
      }
    >
      {seesAll && (
        <p className="mt-2">
          <Link to="/first-week" search={{ fact: "class" }} className="underline">
            What nobody has said of sites, and what is proposed
          </Link>{" "}
          ·{" "}
          <Link to="/words" search={{ fact: "tags" }} className="underline">
            What the words of sources mean
          </Link>
        </p>
      )}
      <WhyNot />
      {sources.data.map((source) => (
        <One
          key={source.name}
          source={source}
          mayRead={me.data.role === "administrator"}
          since={seesAll ? weekAgo : null}
        />
      ))}
      {me.data.role === "administrator" && (
        <p className="mt-7 border-t border-rule-strong pt-4">
          <Link to="/sources/by-hand" className={plainLink}>
            Add a host kept by hand
          </Link>{" "}
          <Link to="/sources/people" className={plainLink}>
            Take in a list of people
          </Link>
        </p>
      )}
    </Sheet>
  );
}

function One({ source, mayRead, since }: { source: Source; mayRead: boolean; since: string | null }) {
  return (
    <section aria-label={source.name} className="mt-7 border-t border-rule-strong pt-3">
      <div className="flex items-center justify-between gap-3">
        <h2 className="text-[18px]">{source.name}</h2>
        {mayRead && (source.hand ? <TakeIn name={source.name} /> : <ReadNow source={source} />)}
      </div>
      <p role="status">{lastRead(source)}</p>
      {source.budget && (
        <p className="text-[13px] text-second">
          Of the {counted(source.budget.allowed, "request")} that it allows,{" "}
          {source.budget.left.toLocaleString("en-GB")} are left.
        </p>
      )}
      {source.error && <p className="mt-1 border-l-[3px] border-madder pl-3 text-madder">{source.error}</p>}
      {mayRead && source.heldBack > 0 && <HeldBack source={source} />}
      {source.sites !== null && (
        <p className="mt-1">
          <Link to="/" search={{ filter: `host eq "${source.name}"` }} className="underline">
            {counted(source.sites, "site")}
          </Link>{" "}
          in use
          {source.attic > 0 && (
            <>
              ,{" "}
              <Link to="/" search={{ filter: `host eq "${source.name}"`, stage: "attic" }} className="underline">
                {source.attic.toLocaleString("en-GB")}
              </Link>{" "}
              in the attic
            </>
          )}
          {source.vanished > 0 && (
            <>
              ;{" "}
              <Link to="/" search={{ filter: `host eq "${source.name}" and vanished eq true` }} className="underline">
                {counted(source.vanished, "site has", "sites have")} vanished
              </Link>
            </>
          )}
          .
        </p>
      )}
      {source.refused.length > 0 && (
        <Part title={`Withheld (${source.refused.length})`}>
          {source.refused.slice(0, MOST_REFUSED).map((words) => (
            <li key={words}>{words}</li>
          ))}
          {source.refused.length > MOST_REFUSED && <li>{source.refused.length - MOST_REFUSED} more</li>}
        </Part>
      )}
      {source.gaps.length > 0 && (
        <Part title="What it does not say">
          {source.gaps.map((gap) => (
            <li key={gap.fact}>
              {gap.fact}, of{" "}
              <Link to="/" search={{ filter: gap.filter, verdict: "cannot-tell" }} className="underline">
                {counted(gap.sites, "site")}
              </Link>
            </li>
          ))}
        </Part>
      )}
      <Part title="What it is like">
        {source.habits.map((habit) => (
          <li key={habit}>{habit}</li>
        ))}
      </Part>
      {since && (
        <p className="mt-2">
          <Link to="/journal" search={{ source: source.name, since }} className="underline">
            What changed there in seven days
          </Link>
        </p>
      )}
    </section>
  );
}

function TakeIn({ name }: { name: string }) {
  return (
    <span className="flex items-center gap-4">
      <Link to="/sources/by-hand" search={{ host: name }} className="text-[13px] underline">
        How it is worked
      </Link>
      <Link to="/sources/$name/list" params={{ name }} className={plainLink}>
        Take in a list
      </Link>
    </span>
  );
}

const plainLink =
  "inline-block rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold hover:bg-bar";

function lastRead(source: Source): string {
  if (source.isReading)
    return source.expected ? `Being read: ${source.read} of ${source.expected} sites so far.` : "Being read.";
  if (source.hand)
    return source.ended
      ? `Last list taken in ${ago(source.ended)}${source.complete ? "" : ", in part"}.`
      : "No list has been taken in yet.";
  if (!source.ended) return "Not read yet.";
  const how = source.complete
    ? source.refused.length > 0
      ? `to the end, ${counted(source.refused.length, "site")} withheld`
      : "to the end"
    : source.goesOn
      ? "not to the end; the next read goes on from there"
      : "not to the end";
  const since =
    source.askedAt && !source.error
      ? ` ${source.changes === 0 ? "Nothing has changed" : `${counted(source.changes, "site has", "sites have")} changed`} since, as it said ${ago(source.askedAt)}.`
      : "";
  return `Read ${ago(source.ended)}, ${how}.${since}`;
}
