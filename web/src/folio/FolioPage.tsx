import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { Tabs } from "radix-ui";
import { useEffect } from "react";
import { api, ApiError, ok, type Wire } from "../api/client";
import { Entries } from "../journal/Entries";
import { Arithmetic } from "../margin/Arithmetic";
import { Notes, useFolio } from "../margin/Margin";
import { About } from "./About";
import { Content, Sources } from "./Content";
import { Days } from "./Days";
import { Moves } from "./Moves";
import { Said } from "./Said";
import { Section } from "./Section";
import { ago, capital, counted, listed, onDay, underTitle } from "../ledger/words";
import { Passage } from "./Passage";

type Folio = Wire["FolioWire"];

const stages = { "never-live": "Never live", live: "Live", changed: "Live, with unseen changes", offline: "Offline" };
const copies: Record<string, string> = { view: "The live copy", preview: "The working copy", edit: "Editing" };

/** Everything known of one site on one page. */
export function FolioPage() {
  const { site } = useParams({ from: "/books/sites/$site" });
  const folio = useFolio(Number(site));
  useEffect(() => {
    if (folio.data) document.title = `${folio.data.line.title} · Attic Ledger`;
  }, [folio.data]);
  if (!folio.data) {
    const isMissing = folio.error instanceof ApiError && folio.error.status === 404;
    return (
      <main className="p-8">
        <h1 className="text-[20px]">{isMissing ? "There is no such site" : "Folio"}</h1>
        <p className="mt-2 text-second">
          {isMissing ? "It is not on the register, or not in your part of it." : (folio.error?.message ?? "…")}
        </p>
        <Link to="/" className="mt-3 inline-block underline">
          To the register
        </Link>
      </main>
    );
  }
  if (folio.data.line.fault) {
    return (
      <main className="min-w-0 flex-1 overflow-auto px-5 pt-4 pb-8">
        <Head folio={folio.data} />
        <div className="max-w-[760px]">
          <Notes folio={folio.data} />
        </div>
        <SiteJournal site={folio.data.line.id} />
      </main>
    );
  }
  return (
    <div className="flex min-h-0 flex-1">
      <main className="min-w-0 flex-1 overflow-auto px-5 pt-4 pb-8">
        <Head folio={folio.data} />
        <Facts folio={folio.data} />
        <Moves site={folio.data.line.id} />
        <WhoGetsIn passages={folio.data.passages} />
        <div className="mt-6 grid grid-cols-1 gap-x-7 gap-y-6 xl:grid-cols-2">
          <KeyHolders folio={folio.data} />
          <Grants folio={folio.data} />
          <Days folio={folio.data} />
          <About folio={folio.data} />
          <Content folio={folio.data} />
          <Sources folio={folio.data} />
          <Said folio={folio.data} />
        </div>
        <SiteJournal site={folio.data.line.id} />
      </main>
      <aside
        aria-label="Margin"
        className="w-[344px] shrink-0 overflow-auto border-l-4 border-double border-margin-rule px-5 py-4"
      >
        <h2 className="text-[16px]">Notes</h2>
        <Notes folio={folio.data} arithmetic={false} />
      </aside>
    </div>
  );
}

function Head({ folio }: { folio: Folio }) {
  return (
    <>
      <p className="text-[13px]">
        <Link to="/" search={{ site: folio.line.id }} className="underline">
          Register
        </Link>
        {folio.units.length > 0 && (
          <span className="text-second"> · {folio.units.map((unit) => unit.name).join(", ")}</span>
        )}
      </p>
      <h1 className="mt-1 text-[26px] leading-tight break-words">
        <bdi>{folio.line.title}</bdi>
      </h1>
      <p className="font-address text-[13px] break-all text-second">
        {underTitle(folio.line)}
        {folio.front && (
          <a className="ml-3 font-text underline" href={folio.front} target="_blank" rel="noreferrer">
            See it as a passer-by
          </a>
        )}
      </p>
      {folio.vanished && (
        <p className="mt-2 border-l-[3px] border-ochre bg-ochre-pale px-3 py-1.5">
          The last complete read of {folio.line.host} no longer listed this site. Vanished is not deleted.
        </p>
      )}
    </>
  );
}

function Facts({ folio }: { folio: Folio }) {
  return (
    <>
      <dl className="mt-4 grid grid-cols-2 border-y border-rule-strong lg:grid-cols-4">
        <Fact
          term="Stage"
          value={folio.line.stage ? stages[folio.line.stage] : "not known"}
          detail={folio.line.lastEdit ? `last edit ${onDay(folio.line.lastEdit)}` : ""}
        />
        <Fact
          term="Where"
          value={folio.line.host}
          detail={[folio.kind, folio.line.unit?.name].filter(Boolean).join(", ")}
        />
        <Fact
          term="Class"
          value={folio.class ?? (folio.unknowns.includes("class") ? "not known" : "none")}
          detail={folio.created ? `made ${onDay(folio.created)}` : ""}
        />
        <Fact
          term="Read"
          value={folio.visits === null ? "not measured" : counted(folio.visits, "visit")}
          detail={folio.visits === null ? "" : "in the last seven days"}
        />
      </dl>
      <p className="mt-1.5 text-[13px] text-second">
        {folio.unknowns.length > 0 && (
          <span className="text-ochre">
            {folio.line.host} did not say: {listed(folio.unknowns)}.{" "}
          </span>
        )}
        What {folio.line.host} said last changed {ago(folio.seenAt)}.
      </p>
    </>
  );
}

function Fact({ term, value, detail }: { term: string; value: string; detail: string }) {
  return (
    <div className="border-rule py-2.5 pr-3 not-first:border-l not-first:pl-3">
      <dt className="text-[12.5px] text-second">{term}</dt>
      <dd className="text-[15px] font-semibold">{capital(value)}</dd>
      <dd className="text-[12.5px] text-second">{detail}</dd>
    </div>
  );
}

function WhoGetsIn({ passages }: { passages: Wire["PassageWire"][] }) {
  const first = passages.find((passage) => passage.beyond === "yes") ?? passages[0];
  if (!first) return null;
  return (
    <section className="mt-5">
      <h2 className="text-[16px]">Who gets in</h2>
      <Tabs.Root defaultValue={first.power}>
        <Tabs.List aria-label="Copy or power" className="mt-1 mb-2 flex gap-1">
          {passages.map((passage) => (
            <Tabs.Trigger
              key={passage.power}
              value={passage.power}
              className="border-b-2 border-transparent px-2 py-1 text-second data-[state=active]:border-brass data-[state=active]:font-bold data-[state=active]:text-ink"
            >
              {copies[passage.power]}
              {passage.beyond === "yes" && <span className="text-madder"> · too wide</span>}
              {passage.beyond === "unknown" && " · cannot tell"}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {passages.map((passage) => (
          <Tabs.Content key={passage.power} value={passage.power} tabIndex={-1}>
            <Passage passage={passage} label={copies[passage.power] ?? passage.power} />
            <p className="mt-1.5 text-[13px] text-second">
              In fact {people(passage.actual)} inside
              {passage.actual.guests > 0 ? ` and ${counted(passage.actual.guests, "named guest")}` : ""}; the house
              allows {people(passage.allowed)} of them
              {passage.actual.guests > 0 ? ` and ${counted(passage.allowed.guests, "guest")}` : ""}.
            </p>
            <details className="mt-1 max-w-[560px]">
              <summary className="cursor-pointer text-[13px] underline">The same as a table</summary>
              <Arithmetic passage={passage} />
            </details>
          </Tabs.Content>
        ))}
      </Tabs.Root>
    </section>
  );
}

const people = (access: Wire["AccessWire"]) =>
  access.peopleAtLeast === access.peopleAtMost
    ? counted(access.peopleAtLeast, "person", "people")
    : `${access.peopleAtLeast} to ${counted(access.peopleAtMost, "person", "people")}`;

function KeyHolders({ folio }: { folio: Folio }) {
  return (
    <Section title="Key holders">
      {folio.keyHolders.map((holder) => (
        <li key={holder.person.id} className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
          <span className="min-w-0">
            <Link
              to="/people/$person"
              params={{ person: holder.person.id.toString() }}
              className="font-bold hover:underline"
            >
              <bdi>{holder.person.name}</bdi>
            </Link>{" "}
            <span className="text-[12.5px] text-second">{holder.person.mail}</span>
            {holder.through && <span className="text-[12.5px] text-second"> through {holder.through}</span>}
          </span>
          <span className={holder.isFit ? "shrink-0 text-moss" : "shrink-0 text-madder"}>{holder.note}</span>
        </li>
      ))}
      {folio.keyHolders.length === 0 && (
        <li className="border-b border-rule py-1.5 text-second">
          {folio.unknowns.includes("who is let in") ? `${folio.line.host} did not say.` : "Nobody holds a key."}
        </li>
      )}
    </Section>
  );
}

function Grants({ folio }: { folio: Folio }) {
  return (
    <Section title={`What it asks of ${folio.line.host}`}>
      {folio.grants.map((grant, place) => (
        <li key={place} className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
          <span className="min-w-0">
            <bdi>{grant.who}</bdi> <span className="text-[12.5px] text-second">{grant.detail}</span>
            {grant.isOutside && (
              <span className="ml-1 rounded-[3px] bg-slate-pale px-1 text-[12px] text-slate">outside</span>
            )}
          </span>
          <span className="shrink-0">{grant.power}</span>
        </li>
      ))}
      {folio.grants.length === 0 && <li className="border-b border-rule py-1.5 text-second">Nothing is known.</li>}
    </Section>
  );
}

function SiteJournal({ site }: { site: number }) {
  const journal = useQuery({
    queryKey: ["journal", { site }],
    queryFn: () => ok(api.GET("/api/journal", { params: { query: { site, limit: 20 } } })),
  });
  const entries = journal.data?.entries ?? [];
  return (
    <section className="mt-6">
      <h2 className="text-[16px]">Journal of this site</h2>
      {journal.data && entries.length === 0 && (
        <p className="py-1.5 text-second">
          Nothing has been done to it, and nothing has changed, since it was first read.
        </p>
      )}
      <div className="-mx-5">
        <Entries entries={entries} />
      </div>
      {journal.data?.next && (
        <Link to="/journal" search={{ site }} className="mt-2 inline-block text-[13px] underline">
          Earlier entries
        </Link>
      )}
    </section>
  );
}
