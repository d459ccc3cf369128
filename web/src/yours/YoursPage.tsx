import { useQuery } from "@tanstack/react-query";
import { Link, useSearch } from "@tanstack/react-router";
import { useEffect, useRef } from "react";
import { api, ok, type Wire } from "../api/client";
import { useMe } from "../api/useMe";
import { HandLines } from "../by-hand/HandLines";
import { useHandOrders } from "../by-hand/useHandOrders";
import { StayNotes, StopForm } from "../attic/StayNotes";
import { stayWords } from "../attic/TimeBar";
import { FindingChip } from "../ledger/Chip";
import { Sheet, Waiting } from "../ledger/Sheet";
import { atMinute, capital, counted, inWords, listed, onDate } from "../ledger/words";

type Site = Wire["YourSiteWire"];

const stages = { "never-live": "never live", live: "live", changed: "live, with unseen changes", offline: "offline" };
const ended: Partial<Record<Wire["OfferState"], string>> = {
  "handed-over": "handed over",
  declined: "declined",
  lapsed: "lapsed",
  withdrawn: "taken back",
  void: "came to nothing",
  "not-done": "refused by the host",
};

/** For everybody: offers to answer, their own sites and the state of each. Made for a phone too. */
export function YoursPage() {
  const { site, link } = useSearch({ from: "/books/yours" });
  const yours = useQuery({
    queryKey: ["yours"],
    queryFn: () => ok(api.GET("/api/yours")),
    refetchInterval: (query) =>
      query.state.data?.sites.some((one) => one.underWay > 0 || one.stay?.state === "announced") ? 2000 : false,
  });
  const me = useMe();
  const toDo = (useHandOrders().data ?? []).filter((line) => line.state === "sent" && line.to.mail === me?.mail);
  if (!yours.data) return <Waiting title="Your sites" error={yours.error} />;
  const open = yours.data.offers.filter((offer) => !ended[offer.state]);
  const answered = [...yours.data.offers, ...yours.data.given].filter((offer) => ended[offer.state]);
  const given = yours.data.given.filter((offer) => !ended[offer.state]);
  const inUse = yours.data.sites.filter((one) => !isAway(one));
  const away = yours.data.sites.filter(isAway);
  return (
    <Sheet
      title="Your sites"
      lead={`${counted(inUse.length, "site")} in use${away.length > 0 ? `, ${away.length} in the attic` : ""}.`}
    >
      {open.length > 0 && (
        <section className="mt-5" aria-label="Offered to you">
          <h2 className="text-[17px]">Offered to you</h2>
          {open.map((offer) => (
            <div key={offer.id} className="mt-2 border-l-[6px] border-brass bg-bookmark px-3 py-2">
              <p className="font-semibold">
                <bdi>{offer.title}</bdi>
              </p>
              <p className="text-[13px]">
                {offer.state === "switching"
                  ? "You accepted; the host is being asked to switch."
                  : `The key${offer.giver ? ` of ${offer.giver.name}` : ""}, to answer through ${onDate(offer.through)}.`}
              </p>
              <DeedLink to="/offers/$offer" params={{ offer: offer.id }}>
                Look and answer
              </DeedLink>
            </div>
          ))}
        </section>
      )}
      <HandLines label="To do by hand" lines={toDo} />
      <section className="mt-6" aria-label="In use">
        <h2 className="text-[17px]">In use</h2>
        {inUse.length === 0 && (
          <p className="mt-2 text-second">
            You hold the key of no site. When somebody offers you one, it stands here and in your mail.
          </p>
        )}
        <ul className="mt-1 divide-y divide-rule border-y border-rule">
          {inUse.map((one) => (
            <InUse key={one.id} site={one} isShown={one.id === site} link={link} />
          ))}
        </ul>
      </section>
      {away.length > 0 && (
        <section className="mt-6" aria-label="In the attic">
          <h2 className="text-[17px]">In the attic</h2>
          <ul className="mt-1 divide-y divide-rule border-y border-rule">
            {away.map((one) => (
              <Away key={one.id} site={one} />
            ))}
          </ul>
        </section>
      )}
      {(given.length > 0 || answered.length > 0) && (
        <section className="mt-6" aria-label="Keys on the move">
          <h2 className="text-[17px]">Keys on the move</h2>
          <ul className="mt-1 list-disc pl-5">
            {[...given, ...answered].map((offer) => (
              <li key={offer.id}>
                <Link to="/offers/$offer" params={{ offer: offer.id }} className="underline">
                  <bdi>{offer.title}</bdi>
                </Link>{" "}
                to {offer.to.name}:{" "}
                {ended[offer.state] ??
                  (offer.state === "switching" ? "being switched" : `open through ${onDate(offer.through)}`)}
              </li>
            ))}
          </ul>
        </section>
      )}
    </Sheet>
  );
}

/** "staff; no one" in words that say which is which. */
const readers = (words: string) => {
  const [inside, outside] = words.split("; ");
  return `inside by ${inside ?? "nobody"}, outside by ${outside ?? "no one"}`;
};

const isAway = (site: Site) => site.stay !== null && site.stay.state !== "announced";

function InUse({ site, isShown, link }: { site: Site; isShown: boolean; link: string | undefined }) {
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
        {capital(site.stage ? stages[site.stage] : "state not known")}
        {site.live ? `; read ${readers(site.live.words)}` : ""}.{" "}
        {site.others.length > 0
          ? `You share it with ${listed([...site.others.slice(0, 3).map((person) => person.name), ...(site.others.length > 3 ? [`${inWords(site.others.length - 3)} more`] : [])])}.`
          : "Nobody else who is fit holds its key."}
      </p>
      {site.findings.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-1">
          {site.findings.map((finding) => (
            <FindingChip key={finding.rule} finding={finding} />
          ))}
        </p>
      )}
      {site.offered && (
        <p className="mt-1 text-[13px]">
          Your key is offered to {site.offered.to.name}, through {onDate(site.offered.through)}.{" "}
          <Link to="/offers/$offer" params={{ offer: site.offered.offer }} className="underline">
            Look at it
          </Link>
        </p>
      )}
      {site.stay?.state === "announced" ? (
        <div className="mt-2 border-l-[3px] border-ochre pl-3">
          <p role="status">
            It is put away at {atMinute(site.stay.stoppableUntil ?? site.stay.askedAt)}, unless you stop it.
          </p>
          {site.stay.mayStop && <StopForm site={site.id} link={isShown ? link : undefined} />}
        </div>
      ) : (
        <p className="mt-2 flex flex-wrap gap-2">
          {site.byName && !site.offered && (
            <DeedLink to="/sites/$site/hand-over" params={{ site: site.id.toString() }}>
              Hand over …
            </DeedLink>
          )}
          <DeedLink to="/sites/$site/put-away" params={{ site: site.id.toString() }}>
            Put away …
          </DeedLink>
        </p>
      )}
    </li>
  );
}

function Away({ site }: { site: Site }) {
  const stay = site.stay;
  return (
    <li className="py-3">
      <p className="font-semibold break-words">
        <bdi>{site.title}</bdi>
      </p>
      <p className="font-address text-[12.5px] break-all text-second">{site.address ?? "no address"}</p>
      {stay && (
        <details className="mt-1">
          <summary className="min-h-6 cursor-pointer text-[13px]">
            {stayWords[stay.state]}
            {stay.clock
              ? `; ${stay.clock.left === "over" ? "its time is over" : `can be brought back for ${stay.clock.left}`}`
              : ""}
          </summary>
          <div className="border-l border-rule pl-3">
            <StayNotes site={site.id} />
          </div>
        </details>
      )}
    </li>
  );
}

const look =
  "inline-block rounded-[4px] border border-rule-strong bg-sheet px-3 py-2 text-[13px] font-semibold text-ink hover:bg-bar";

function DeedLink(
  props: { children: string } & (
    | { to: "/offers/$offer"; params: { offer: string } }
    | { to: "/sites/$site/hand-over" | "/sites/$site/put-away"; params: { site: string } }
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
