import { labels } from "../api/labels";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useRef } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { ManualTaskRows } from "../manual-tasks/ManualTaskRows";
import { useManualTasks } from "../manual-tasks/useManualTasks";
import { SiteRequestRows } from "../starting/SiteRequestRows";
import { useSiteRequests } from "../starting/useSiteRequests";
import { AtticEntryNotes, StopForm } from "../attic/AtticEntryNotes";
import { FindingChip } from "../site-parts/FindingChip";
import { AnswerForm } from "../site-parts/Question";
import { Button } from "../ui/Button";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { atMinute, capital, counted, digits, listed, onDate } from "../ui/words";

type Site = Schema["YourSite"];

const statuses = {
  "never-published": "never published",
  published: "published",
  "unpublished-changes": "published, with unpublished changes",
  offline: "offline",
};
const ended: Partial<Record<Schema["OfferState"], string>> = {
  "handed-over": "handed over",
  declined: "declined",
  lapsed: "lapsed",
  withdrawn: "undone",
  void: "void",
  "not-done": "refused by the host",
};

/** For every member of staff: offers to answer, their own sites and the state of each. Made for phones too. */
export function YourSitesPage() {
  const { site, link } = useSearch({ from: "/books/your-sites" });
  const yours = useQuery({
    queryKey: ["yours"],
    queryFn: () => ok(api.GET("/api/your-sites")),
    refetchInterval: (query) =>
      query.state.data?.sites.some((one) => one.underWay > 0 || one.atticEntry?.state === "announced") ? 2000 : false,
  });
  const me = useMe();
  const toDo = (useManualTasks().data ?? []).filter((line) => line.state === "sent" && line.to.mail === me?.mail);
  const requests = useSiteRequests().data;
  const asked = [
    ...(requests?.open ?? []),
    ...(requests?.ended ?? []).filter(({ state }) => state !== "in-use"),
  ].filter(({ by }) => by.mail === me?.mail);
  if (!yours.data) return <Waiting title="Your sites" error={yours.error} />;
  const open = yours.data.offers.filter((offer) => !ended[offer.state]);
  const toAnswer = open.filter((offer) => offer.state === "offered");
  const answered = [...yours.data.offers, ...yours.data.given].filter((offer) => ended[offer.state]);
  const given = yours.data.given.filter((offer) => !ended[offer.state]);
  const inUse = yours.data.sites.filter((one) => !isInAttic(one));
  const inAttic = yours.data.sites.filter(isInAttic);
  return (
    <SidePanel
      title="Your sites"
      lead={`${counted(inUse.length, "site")} in use${inAttic.length > 0 ? `, ${inAttic.length} in the attic` : ""}.`}
    >
      {open.length > 0 && (
        <section className="mt-5" aria-label="Offered to you">
          <h2 className="text-[17px]">Offered to you</h2>
          {toAnswer.length > 1 && <AcceptAll sites={[...new Set(toAnswer.map((offer) => offer.site))]} />}
          {open.map((offer) => (
            <div key={offer.id} className="mt-2 border-l-[6px] border-brass bg-bookmark px-3 py-2">
              <p className="font-semibold">
                <bdi>{offer.title}</bdi>
              </p>
              <p className="text-[13px]">
                {offer.state === "completing"
                  ? "You accepted. The change of owner is queued or sent to the host."
                  : offer.after === "owns"
                    ? `Another owner is wanted; answer by the end of ${onDate(offer.through)}.`
                    : `Ownership${offer.currentOwner ? ` of ${offer.currentOwner.name}` : ""}, answer by the end of ${onDate(offer.through)}.`}
              </p>
              <ActionLink to="/offers/$offer" params={{ offer: offer.id }}>
                Review and answer
              </ActionLink>
            </div>
          ))}
        </section>
      )}
      {me?.mayAct && (
        <p className="mt-4">
          <Link
            to="/start"
            className="inline-block rounded-[4px] border border-cover bg-cover px-3 py-2 text-[13px] font-semibold text-cover-ink dark:border-brass"
          >
            Start a site
          </Link>
        </p>
      )}
      <SiteRequestRows label="Asked for" lines={asked} />
      <ManualTaskRows label="Manual tasks" lines={toDo} />
      <section className="mt-6" aria-label="In use">
        <h2 className="text-[17px]">In use</h2>
        {inUse.length === 0 && (
          <p className="mt-2 text-second">
            Sites that you own appear here. You own none. When somebody offers you a site, you find the offer here and
            in your mail. Ask an administrator if one of yours is missing.
          </p>
        )}
        <ul className="mt-1 divide-y divide-rule border-y border-rule">
          {inUse.map((one) => (
            <InUse key={one.id} site={one} isShown={one.id === site} link={link} mayAct={me?.mayAct ?? false} />
          ))}
        </ul>
      </section>
      <Used />
      {inAttic.length > 0 && (
        <section className="mt-6" aria-label="In the attic">
          <h2 className="text-[17px]">In the attic</h2>
          <ul className="mt-1 divide-y divide-rule border-y border-rule">
            {inAttic.map((one) => (
              <InAttic key={one.id} site={one} />
            ))}
          </ul>
        </section>
      )}
      {(given.length > 0 || answered.length > 0) && (
        <section className="mt-6" aria-label="Handovers under way">
          <h2 className="text-[17px]">Handovers under way</h2>
          <ul className="mt-1 list-disc pl-5">
            {[...given, ...answered].map((offer) => (
              <li key={offer.id}>
                <Link to="/offers/$offer" params={{ offer: offer.id }} className="underline">
                  <bdi>{offer.title}</bdi>
                </Link>{" "}
                to {offer.to.name}:{" "}
                {ended[offer.state] ??
                  (offer.state === "completing" ? "being completed" : `open until the end of ${onDate(offer.through)}`)}
              </li>
            ))}
          </ul>
        </section>
      )}
    </SidePanel>
  );
}

const powers: Record<Schema["Power"], string> = {
  view: "You can view it",
  preview: "You can view the draft",
  edit: "You can edit it",
  publish: "You can edit and publish it",
  invite: "You can edit it and invite people",
  manage: "You can manage it",
  own: "You own it",
};

/** What somebody may edit or view without owning it, and whom to ask about each. */
function Used() {
  const answer = useQuery({ queryKey: ["used sites"], queryFn: () => ok(api.GET("/api/your-sites/used")) });
  const used = answer.data?.sites ?? [];
  const inAll = answer.data?.total ?? 0;
  return (
    <section className="mt-6" aria-label="You can edit or view">
      <h2 className="text-[17px]">You can edit or view</h2>
      {!answer.data ? (
        <p className="mt-2 text-second">{answer.error?.message ?? "…"}</p>
      ) : used.length === 0 ? (
        <p className="mt-2 text-second">
          No other site names you, a group or the unit that you are in. What all of the staff can view is not listed
          here.
        </p>
      ) : (
        <ul className="mt-1 divide-y divide-rule border-y border-rule">
          {used.map((site) => (
            <li key={site.id} className="py-2">
              <p className="font-semibold break-words">
                <bdi>{site.title}</bdi>
              </p>
              <p className="font-address text-[12.5px] break-all text-second">{site.address ?? "no address"}</p>
              <p className="text-[13px]">
                {powers[site.power]}.{" "}
                {site.ask.length > 0
                  ? `Ask ${listed(site.ask.map((person) => `${person.name} (${person.mail})`))} about it.`
                  : "It has no active owner: ask an administrator about it."}
              </p>
            </li>
          ))}
        </ul>
      )}
      {inAll > used.length && <p className="mt-1 text-second">{counted(inAll - used.length, "more site")}</p>}
    </section>
  );
}

/** Several offers are accepted together: first the plan for each site. */
function AcceptAll({ sites }: { sites: number[] }) {
  const navigate = useNavigate();
  const plan = useMutation({
    mutationFn: () => ok(api.POST("/api/batches", { body: { action: "offer.accept", sites } })),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  return (
    <p className="mt-1">
      <Button disabled={plan.isPending} onClick={() => plan.mutate()}>
        Review and accept all {sites.length.toLocaleString("en-GB")} …
      </Button>
      {plan.error && (
        <span role="alert" className="ml-3 text-madder">
          {plan.error.message}
        </span>
      )}
    </p>
  );
}

const readerLabels: Record<string, string> = {
  staff: "all staff",
  unit: "the unit",
  named: "named people",
  "named in unit": "named people of the unit",
  "no one": "nobody",
};

/** "named to staff; no one" as a sentence: what is certain, and what is possible if a fact is not known. */
const readers = (words: string) => {
  const [inside, outside] = words.split("; ").map((levels) =>
    levels
      .split(" to ")
      .map((level) => readerLabels[level] ?? level)
      .join(", perhaps "),
  );
  return `inside by ${inside ?? "nobody"}; from outside by ${outside ?? "nobody"}`;
};

const isInAttic = (site: Site) => site.atticEntry !== null && site.atticEntry.state !== "announced";

function InUse(props: { site: Site; isShown: boolean; link: string | undefined; mayAct: boolean }) {
  const { site, isShown, link, mayAct } = props;
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (isShown) item.current?.scrollIntoView({ block: "center" });
  }, [isShown]);
  return (
    <li ref={item} className={`py-3 ${isShown ? "border-l-[6px] border-brass bg-bookmark px-3" : ""}`}>
      <p className="font-semibold break-words">
        <Link to="/sites/$site" params={{ site: site.id.toString() }} className="hover:underline">
          <bdi>{site.title}</bdi>
        </Link>
      </p>
      <p className="font-address text-[12.5px] break-all text-second">{site.address ?? "no address"}</p>
      <p className="mt-0.5 text-[13px]">
        {capital(site.status ? statuses[site.status] : "status not known")}
        {site.published ? `; viewed ${readers(site.published.words)}` : ""}.{" "}
        {site.others.length > 0
          ? `You share it with ${listed([...site.others.slice(0, 3).map((person) => person.name), ...(site.others.length > 3 ? [`${digits(site.others.length - 3)} more`] : [])])}.`
          : "You are its only active owner."}
      </p>
      {site.findings.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-1">
          {site.findings.map((finding) => (
            <FindingChip key={finding.rule} finding={finding} />
          ))}
        </p>
      )}
      {mayAct &&
        site.questions.map((question) => (
          <AnswerForm
            key={question.id}
            question={question}
            rule={site.findings.find((finding) => finding.rule === question.rule)?.title}
          />
        ))}
      {site.offered && (
        <p className="mt-1 text-[13px]">
          You offered it to {site.offered.to.name}. The offer lapses at the end of {onDate(site.offered.through)}.{" "}
          <Link to="/offers/$offer" params={{ offer: site.offered.offer }} className="underline">
            See the offer
          </Link>
        </p>
      )}
      {site.atticEntry?.state === "announced" ? (
        <div className="mt-2 border-l-[3px] border-ochre pl-3">
          <p role="status">
            It moves to the attic at {atMinute(site.atticEntry.stoppableUntil ?? site.atticEntry.requestedAt)}, unless
            you stop it.
          </p>
          {site.atticEntry.mayStop && <StopForm site={site.id} link={isShown ? link : undefined} />}
        </div>
      ) : !mayAct ? null : (
        <p className="mt-2 flex flex-wrap gap-2">
          {site.byName && !site.offered && (
            <>
              <ActionLink to="/sites/$site/add-owner" params={{ site: site.id.toString() }}>
                Add an owner …
              </ActionLink>
              <ActionLink to="/sites/$site/hand-over" params={{ site: site.id.toString() }}>
                Hand over …
              </ActionLink>
            </>
          )}
          <ActionLink to="/sites/$site/move-to-attic" params={{ site: site.id.toString() }}>
            Move to the attic …
          </ActionLink>
        </p>
      )}
    </li>
  );
}

function InAttic({ site }: { site: Site }) {
  const atticEntry = site.atticEntry;
  return (
    <li className="py-3">
      <p className="font-semibold break-words">
        <bdi>{site.title}</bdi>
      </p>
      <p className="font-address text-[12.5px] break-all text-second">{site.address ?? "no address"}</p>
      {atticEntry && (
        <details className="mt-1">
          <summary className="min-h-6 cursor-pointer text-[13px]">
            {labels.AtticState[atticEntry.state]}
            {atticEntry.clock
              ? `; ${atticEntry.clock.left === "over" ? "its last day has passed" : `can be restored for ${atticEntry.clock.left}`}`
              : ""}
          </summary>
          <div className="border-l border-rule pl-3">
            <AtticEntryNotes site={site.id} />
          </div>
        </details>
      )}
    </li>
  );
}

const look =
  "inline-block rounded-[4px] border border-rule-strong bg-sheet px-3 py-2 text-[13px] font-semibold text-ink hover:bg-bar";

function ActionLink(
  props: { children: string } & (
    | { to: "/offers/$offer"; params: { offer: string } }
    | {
        to: "/sites/$site/add-owner" | "/sites/$site/hand-over" | "/sites/$site/move-to-attic";
        params: { site: string };
      }
  ),
) {
  return props.to === "/offers/$offer" ? (
    <Link to={props.to} params={props.params} className={`mt-2 ${look}`}>
      {props.children}
    </Link>
  ) : (
    <Link to={props.to} params={props.params} className={look}>
      {props.children}
    </Link>
  );
}
