import { Word } from "../words/Word";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schema } from "../api/client";
import { meQuery } from "../api/useMe";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { ago, counted, digits, listed } from "../ui/words";
import { TitledList } from "./TitledList";
import { HeldBack } from "./HeldBack";
import { SyncNow } from "./SyncNow";
import { useSources } from "./useSources";
import { NoMail } from "../actions/NoMail";
import { WhyNot } from "./WhyNot";

type Source = Schema["Source"];

const MOST_REFUSED = 10;

/** The sources of the register: how complete each is, its capabilities and its last sync. */
export function SourcesPage() {
  const me = useQuery(meQuery);
  const sources = useSources();
  const [weekAgo] = useState(() => new Date(Date.now() - 7 * 86_400_000).toISOString().slice(0, 10));
  if (!sources.data || !me.data) return <Waiting title="Sources" error={sources.error} />;
  const incomplete = sources.data.filter((source) => source.complete === false);
  const seesAll = me.data.role === "administrator" || me.data.role === "auditor";
  return (
    <SidePanel
      title="Sources"
      lead={
        sources.data.length === 0
          ? "The hosts and lists that the register is built from appear here. None is connected yet: set one in the server's settings, import a bundle, or add a host without a connector."
          : incomplete.length > 0
            ? `${listed(incomplete.map((source) => source.name))} could not be synced completely: no site is marked as no longer reported, and new sites may be missing.`
            : `The register contains what these ${digits(sources.data.length)} report.`
      }
    >
      {seesAll && (
        <p className="mt-2">
          <Link to="/classification" search={{ fact: "classification" }} className="underline">
            Classification to complete
          </Link>{" "}
          ·{" "}
          <Link to="/vocabulary" search={{ fact: "tags" }} className="underline">
            Vocabulary
          </Link>
        </p>
      )}
      <NoMail />
      <WhyNot />
      {sources.data.map((source) => (
        <One
          key={source.name}
          source={source}
          maySync={me.data.role === "administrator"}
          since={seesAll ? weekAgo : null}
        />
      ))}
      {me.data.role === "administrator" && (
        <p className="mt-7 border-t border-rule-strong pt-4">
          <Link to="/sources/manual-procedure" className={plainLink}>
            Add a host without a connector
          </Link>{" "}
          <Link to="/sources/people" className={plainLink}>
            Import people
          </Link>
        </p>
      )}
    </SidePanel>
  );
}

function One({ source, maySync, since }: { source: Source; maySync: boolean; since: string | null }) {
  return (
    <section aria-label={source.name} className="mt-7 border-t border-rule-strong pt-3">
      <div className="flex items-center justify-between gap-3">
        <h2 className="text-[18px]">{source.name}</h2>
        {maySync && (source.manualProcedure ? <TakeIn name={source.name} /> : <SyncNow source={source} />)}
      </div>
      <p role="status">{lastSync(source)}</p>
      {source.budget && (
        <p className="text-[13px] text-second">
          Of the {counted(source.budget.allowed, "request")} that it allows,{" "}
          {source.budget.left.toLocaleString("en-GB")} are left.
        </p>
      )}
      {source.error && <p className="mt-1 border-l-[3px] border-madder pl-3 text-madder">{source.error}</p>}
      {maySync && source.heldBack > 0 && <HeldBack source={source} />}
      {source.sites !== null && (
        <p className="mt-1">
          <Link to="/" search={{ filter: `host eq "${source.name}"` }} className="underline">
            {counted(source.sites, "site")}
          </Link>{" "}
          in use
          {source.attic > 0 && (
            <>
              ,{" "}
              <Link to="/" search={{ filter: `host eq "${source.name}"`, status: "attic" }} className="underline">
                {source.attic.toLocaleString("en-GB")}
              </Link>{" "}
              in the attic
            </>
          )}
          {source.noLongerReported > 0 && (
            <>
              ;{" "}
              <Link
                to="/"
                search={{ filter: `host eq "${source.name}" and no-longer-reported eq true` }}
                className="underline"
              >
                {counted(source.noLongerReported, "site")} no longer reported
              </Link>
            </>
          )}
          .
        </p>
      )}
      {source.refused.length > 0 && (
        <TitledList title={`Left out (${source.refused.length})`}>
          {source.refused.slice(0, MOST_REFUSED).map((words) => (
            <li key={words}>{words}</li>
          ))}
          {source.refused.length > MOST_REFUSED && <li>{source.refused.length - MOST_REFUSED} more</li>}
        </TitledList>
      )}
      {source.gaps.length > 0 && (
        <TitledList title={<Word of="not known">Not reported</Word>}>
          {source.gaps.map((gap) => (
            <li key={gap.fact}>
              {gap.fact}, for{" "}
              <Link to="/" search={{ filter: gap.filter, verdict: "cannot-tell" }} className="underline">
                {counted(gap.sites, "site")}
              </Link>
            </li>
          ))}
        </TitledList>
      )}
      <TitledList title={<Word of="capabilities">Capabilities</Word>}>
        {source.capabilities.map((habit) => (
          <li key={habit}>{habit}</li>
        ))}
      </TitledList>
      {since && (
        <p className="mt-2">
          <Link to="/journal" search={{ source: source.name, since }} className="underline">
            Changes there in the last 7 days
          </Link>
        </p>
      )}
    </section>
  );
}

function TakeIn({ name }: { name: string }) {
  return (
    <span className="flex items-center gap-4">
      <Link to="/sources/manual-procedure" search={{ host: name }} className="text-[13px] underline">
        Manual procedure
      </Link>
      <Link to="/sources/$name/import" params={{ name }} className={plainLink}>
        Import sites
      </Link>
    </span>
  );
}

const plainLink =
  "inline-block rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold hover:bg-bar";

function lastSync(source: Source): string {
  if (source.isSyncing)
    return source.expected ? `Sync running: ${source.read} of ${source.expected} sites so far.` : "Sync running.";
  if (source.manualProcedure)
    return source.ended
      ? `Last list imported ${ago(source.ended)}${source.complete ? "" : ", in part"}.`
      : "No list has been imported yet.";
  if (!source.ended) return "Not synced yet.";
  const how = source.complete
    ? source.refused.length > 0
      ? `completely, except what is left out below`
      : "completely"
    : source.goesOn
      ? "not completely; the next sync continues there"
      : "not completely";
  const since =
    source.requestedAt && !source.error
      ? ` ${source.changes === 0 ? "Nothing has changed" : `${counted(source.changes, "site has", "sites have")} changed`} since, as reported ${ago(source.requestedAt)}.`
      : "";
  return `Synced ${ago(source.ended)}, ${how}.${since}`;
}
