import { Notice } from "../ui/Notice";
import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { Link, useLocation, useParams } from "@tanstack/react-router";
import { Tabs } from "radix-ui";
import { useEffect } from "react";
import { api, ApiError, ok, type Schema } from "../api/client";
import { Entries } from "../journal/Entries";
import { Arithmetic } from "../details/Arithmetic";
import { useSitePage } from "../api/useSitePage";
import { Notes } from "../details/DetailsPanel";
import { About } from "./About";
import { Content, Sources } from "./Content";
import { Dates } from "./Dates";
import { Moves } from "./Moves";
import { Claims } from "./Claims";
import { Section } from "./Section";
import { SetFactHere } from "./SetFactHere";
import { Explained, Word } from "../words/Word";
import { AccessPathLegend } from "../words/Legends";
import { ago, capital, counted, listed, onDay } from "../ui/words";
import { underTitle } from "../site-parts/underTitle";
import { AccessPath } from "./AccessPath";

type SitePage = Schema["SitePage"];

const copies: Record<string, string> = { view: "Published site", preview: "Draft", edit: "Editing" };

/** Everything known of one site on one page. */
export function SitePage() {
  const { site } = useParams({ from: "/books/sites/$site" });
  const sitePage = useSitePage(Number(site));
  const { hash } = useLocation();
  const isThere = sitePage.data !== undefined;

  // A link to a part of the page arrives before the page is loaded.
  useEffect(() => {
    if (isThere && hash !== "") document.getElementById(hash)?.scrollIntoView();
  }, [isThere, hash]);
  useEffect(() => {
    if (sitePage.data) document.title = `${sitePage.data.line.title} · Attic Ledger`;
  }, [sitePage.data]);
  if (!sitePage.data) {
    const isMissing = sitePage.error instanceof ApiError && sitePage.error.status === 404;
    return (
      <main className="p-8">
        <h1 className="text-[20px]">{isMissing ? "There is no such site" : "Site page"}</h1>
        <p className="mt-2 text-second">
          {isMissing ? "It is not in the register, or not in your scope." : (sitePage.error?.message ?? "…")}
        </p>
        <Link to="/" className="mt-3 inline-block underline">
          To the register
        </Link>
      </main>
    );
  }
  if (sitePage.data.line.fault) {
    return (
      <main className="min-w-0 flex-1 overflow-auto px-5 pt-4 pb-8">
        <Head sitePage={sitePage.data} />
        <div className="max-w-[760px]">
          <Notes sitePage={sitePage.data} />
        </div>
        <SiteJournal site={sitePage.data.line.id} />
      </main>
    );
  }
  return (
    <div className="flex min-h-0 flex-1">
      <main className="min-w-0 flex-1 overflow-auto px-5 pt-4 pb-8">
        <Head sitePage={sitePage.data} />
        <Facts sitePage={sitePage.data} />
        <Moves site={sitePage.data.line.id} />
        <WhoGetsIn
          site={sitePage.data.line.id}
          accessPaths={sitePage.data.accessPaths}
          isInUse={sitePage.data.existence === "in-use"}
          isOffline={sitePage.data.line.status === "offline"}
        />
        <div className="mt-6 grid grid-cols-1 gap-x-7 gap-y-6 xl:grid-cols-2">
          <SiteOwners sitePage={sitePage.data} />
          <Grants sitePage={sitePage.data} />
          <Dates sitePage={sitePage.data} />
          <About sitePage={sitePage.data} />
          <Content sitePage={sitePage.data} />
          <Sources sitePage={sitePage.data} />
          <SetFactHere sitePage={sitePage.data} />
          <Claims sitePage={sitePage.data} />
        </div>
        <SiteJournal site={sitePage.data.line.id} />
      </main>
      <aside
        aria-label="Details"
        className="w-[344px] shrink-0 overflow-auto border-l-4 border-double border-margin-rule px-5 py-4"
      >
        <h2 className="text-[16px]">Details</h2>
        <Notes sitePage={sitePage.data} arithmetic={false} />
      </aside>
    </div>
  );
}

/** True if the host does not report a fact. */
const isUnknown = (sitePage: SitePage, fact: string) => sitePage.unknowns.some((unknown) => unknown.fact === fact);

function Head({ sitePage }: { sitePage: SitePage }) {
  return (
    <>
      <p className="text-[13px]">
        <Link to="/" search={{ site: sitePage.line.id }} className="underline">
          Register
        </Link>
        {sitePage.units.length > 0 && (
          <span className="text-second"> · {sitePage.units.map((unit) => unit.name).join(", ")}</span>
        )}
      </p>
      <h1 className="mt-1 text-[26px] leading-tight break-words">
        <bdi>{sitePage.line.title}</bdi>
      </h1>
      <p className="font-address text-[13px] break-all text-second">
        {underTitle(sitePage.line)}
        {sitePage.front && (
          <a className="ml-3 font-text underline" href={sitePage.front} target="_blank" rel="noreferrer">
            See it as an anonymous visitor
          </a>
        )}
      </p>
      {sitePage.existence !== "in-use" && (
        <Notice>
          {sitePage.existence === "attic"
            ? "It is in the attic. The facts below are those of when it was in use."
            : `It is erased at ${sitePage.line.host}. The facts below are those of when it was in use.`}
        </Notice>
      )}
      {sitePage.existence === "in-use" && sitePage.line.status === "offline" && (
        <Notice>
          It is offline: visitors cannot open it. The access to the published site below is that of when it was online.
        </Notice>
      )}
      {sitePage.noLongerReported && (
        <Notice>
          {sitePage.line.host} no longer reports this site: the last complete sync did not contain it. It may still
          exist.
        </Notice>
      )}
    </>
  );
}

function Facts({ sitePage }: { sitePage: SitePage }) {
  return (
    <>
      <dl className="mt-4 grid grid-cols-2 border-y border-rule-strong lg:grid-cols-4">
        <Fact
          term="Status"
          explained={sitePage.line.status === "unpublished-changes" ? "unpublished changes" : "published"}
          value={sitePage.line.status ? capital(labels.Status[sitePage.line.status]) : "not known"}
          detail={sitePage.line.lastEdit ? `last edit ${onDay(sitePage.line.lastEdit)}` : ""}
        />
        <Fact
          term="Host"
          explained="host"
          value={sitePage.line.host}
          detail={[sitePage.kind, sitePage.line.unit?.name].filter(Boolean).join(", ")}
        />
        <Fact
          term="Classification"
          explained="classification"
          value={sitePage.classification ?? (isUnknown(sitePage, "classification") ? "not known" : "none")}
          detail={sitePage.created ? `created ${onDay(sitePage.created)}` : ""}
        />
        <Fact
          term="Visits"
          value={sitePage.visits === null ? "not reported" : counted(sitePage.visits, "visit")}
          detail={sitePage.visits === null ? "" : "in the last seven days"}
        />
      </dl>
      <p className="mt-1.5 text-[13px] text-second">
        {sitePage.unknowns.length > 0 && (
          <span className="text-ochre">
            {sitePage.line.host} does not report: {listed(sitePage.unknowns.map((unknown) => unknown.label))}.{" "}
          </span>
        )}
        The facts from {sitePage.line.host} last changed {ago(sitePage.seenAt)}.
      </p>
    </>
  );
}

function Fact(props: { term: string; value: string; detail: string; explained?: string }) {
  const { term, value, detail, explained } = props;
  return (
    <div className="border-rule py-2.5 pr-3 not-first:border-l not-first:pl-3">
      <dt className="text-[12.5px] text-second">{explained ? <Word of={explained}>{term}</Word> : term}</dt>
      <dd className="text-[15px] font-semibold">{capital(value)}</dd>
      <dd className="text-[12.5px] text-second">{detail}</dd>
    </div>
  );
}

function WhoGetsIn(props: { site: number; accessPaths: Schema["AccessPath"][]; isInUse: boolean; isOffline: boolean }) {
  const { site, accessPaths, isInUse, isOffline } = props;
  const isNow = ({ power }: Schema["AccessPath"]) => isInUse && !(isOffline && power === "view");
  const first =
    accessPaths.find((accessPath) => accessPath.exceeds === "yes") ?? accessPaths.find(isNow) ?? accessPaths[0];
  if (!first) return null;
  return (
    <section className="mt-5">
      <h2 className="text-[16px]">
        <Explained explanation={<AccessPathLegend />}>{isInUse ? "Access" : "Access when it was in use"}</Explained>
      </h2>
      <Tabs.Root defaultValue={first.power}>
        <Tabs.List aria-label="Published site, draft or editing" className="mt-1 mb-2 flex gap-1">
          {accessPaths.map((accessPath) => (
            <Tabs.Trigger
              key={accessPath.power}
              value={accessPath.power}
              className="border-b-2 border-transparent px-2 py-1 text-second data-[state=active]:border-brass data-[state=active]:font-bold data-[state=active]:text-ink"
            >
              {copies[accessPath.power]}
              {isInUse && !isNow(accessPath) && ", when online"}
              {accessPath.exceeds === "yes" && <span className="text-madder"> · exceeds policy</span>}
              {accessPath.exceeds === "unknown" && " · cannot tell"}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {accessPaths.map((accessPath) => (
          <Tabs.Content key={accessPath.power} value={accessPath.power} tabIndex={-1}>
            <AccessPath accessPath={accessPath} label={copies[accessPath.power] ?? accessPath.power} />
            <p className="mt-1.5 text-[13px] text-second">
              {isNow(accessPath) ? "Effective" : "Then effective"}: {people(accessPath.effective)} inside
              {accessPath.effective.guests > 0 ? ` and ${counted(accessPath.effective.guests, "named guest")}` : ""};
              policy allows {people(accessPath.allowed)}
              {accessPath.effective.guests > 0 ? ` and ${counted(accessPath.allowed.guests, "guest")}` : ""}.
            </p>
            {isInUse && (
              <Link
                to="/sites/$site/why"
                params={{ site: `${site}` }}
                search={{ power: accessPath.power }}
                className="mt-1 inline-block text-[13px] underline"
              >
                Ask why somebody gets in or not …
              </Link>
            )}
            <details className="mt-1 max-w-[560px]">
              <summary className="cursor-pointer text-[13px] underline">Show as a table</summary>
              <Arithmetic accessPath={accessPath} />
            </details>
          </Tabs.Content>
        ))}
      </Tabs.Root>
    </section>
  );
}

const people = (access: Schema["Access"]) =>
  access.peopleAtLeast === access.peopleAtMost
    ? counted(access.peopleAtLeast, "person", "people")
    : `${access.peopleAtLeast} to ${counted(access.peopleAtMost, "person", "people")}`;

function SiteOwners({ sitePage }: { sitePage: SitePage }) {
  return (
    <Section title="Owners">
      {sitePage.siteOwners.map((holder) => (
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
            {holder.through && <span className="text-[12.5px] text-second"> by {holder.through}</span>}
          </span>
          <span className={holder.isActive ? "shrink-0 text-moss" : "shrink-0 text-madder"}>{holder.note}</span>
        </li>
      ))}
      {sitePage.siteOwners.length === 0 && (
        <li className="border-b border-rule py-1.5 text-second">
          {isUnknown(sitePage, "access") ? `${sitePage.line.host} does not report owners.` : "This site has no owner."}
        </li>
      )}
    </Section>
  );
}

function Grants({ sitePage }: { sitePage: SitePage }) {
  return (
    <Section title={`Access set at ${sitePage.line.host}`}>
      {sitePage.grants.map((grant, place) => (
        <li key={place} className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
          <span className="min-w-0">
            <bdi>{grant.who}</bdi> <span className="text-[12.5px] text-second">{grant.detail}</span>
            {grant.isOutside && (
              <span className="ml-1 rounded-[3px] bg-slate-pale px-1 text-[12px] text-slate">outside</span>
            )}
            {grant.hasLeft && <span className="ml-1 text-[12.5px] text-madder">has left</span>}
          </span>
          <span className="shrink-0">
            {grant.power}
            {grant.person !== null && sitePage.existence === "in-use" && (
              <Link
                to="/sites/$site/why"
                params={{ site: `${sitePage.line.id}` }}
                search={{ person: grant.person, power: grant.power }}
                className="ml-3 underline"
              >
                Why<span className="sr-only"> {grant.who} gets in or not</span>
              </Link>
            )}
            {sitePage.mayAct && sitePage.existence === "in-use" && (grant.person ?? grant.group) !== null && (
              <Link
                to="/remove-access"
                search={{
                  ...(grant.person !== null && { person: grant.person }),
                  ...(grant.group !== null && { group: grant.group }),
                  site: sitePage.line.id,
                }}
                className="ml-3 underline"
              >
                Remove …<span className="sr-only"> the access of {grant.who}</span>
              </Link>
            )}
          </span>
        </li>
      ))}
      {sitePage.grants.length === 0 && (
        <li className="border-b border-rule py-1.5 text-second">
          {isUnknown(sitePage, "access") ? `${sitePage.line.host} does not report it.` : "Nobody has access."}
        </li>
      )}
      {sitePage.mayAct && sitePage.existence === "in-use" && !isUnknown(sitePage, "access") && (
        <li className="py-1.5">
          <Link to="/sites/$site/grant-access" params={{ site: `${sitePage.line.id}` }} className="underline">
            Grant access …
          </Link>{" "}
          <Link to="/sites/$site/invite" params={{ site: `${sitePage.line.id}` }} className="ml-3 underline">
            Invite a guest …
          </Link>
        </li>
      )}
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
        <p className="py-1.5 text-second">No action and no change since the first sync.</p>
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
