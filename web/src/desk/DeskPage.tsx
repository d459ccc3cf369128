import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useEffect, type ReactNode } from "react";
import { api, ok, type Wire } from "../api/client";
import { stayWords } from "../attic/TimeBar";
import { useMe } from "../api/useMe";
import { handTitle, useHandOrders, type HandLine } from "../by-hand/useHandOrders";
import { useBatches } from "../batches/useBatches";
import { bulkDeeds, countOf, isOver, standing } from "../batches/words";
import { capital, counted, inWords, listed, onDate, onDay } from "../ledger/words";
import { deedNames } from "./ApprovalPage";

type Group = Wire["GroupWire"];

const weekday = new Intl.DateTimeFormat("en-GB", { weekday: "long" });
const mostSquares = 40;

/** What is to be decided today: requests first, then findings by the person or the rule behind them. */
export function DeskPage() {
  const me = useMe();
  const desk = useQuery({ queryKey: ["desk"], queryFn: () => ok(api.GET("/api/desk")) });
  useEffect(() => {
    document.title = "Desk · Attic Ledger";
  }, []);
  const data = desk.data;
  // What is over and went as planned needs no place among the decisions.
  const batches = (useBatches().data ?? []).filter(
    (batch) => batch.state !== "ended" || countOf(batch, "under-way", "changed", "host-refused", "contradicted") > 0,
  );
  const byHand = (useHandOrders().data ?? []).filter((line) => wantsDesk(line, me?.mail));
  const requests = data
    ? data.approvals.length + data.offers.length + data.heard.length + batches.length + byHand.length
    : 0;
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">{weekday.format(new Date())}'s desk</h1>
          <p role="status" className="text-second">
            {data
              ? `${capital(inWords(data.groups.length))} people and rules stand behind ${counted(data.findings, "finding")}; ${requests === 0 ? "nothing else waits" : `${inWords(requests)} other ${requests === 1 ? "thing waits" : "things wait"}`}.`
              : (desk.error?.message ?? "…")}
          </p>
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {data && requests === 0 && data.groups.length === 0 && (
          <div className="p-8">
            <h2 className="text-[18px]">Nothing is to be decided</h2>
            <p className="mt-2 text-second">No rule is broken in your part, nobody waits for you.</p>
          </div>
        )}
        <ul>
          {batches.map((batch) => (
            <Item
              key={batch.id}
              when={batch.state === "stopped" ? "stopped" : isOver(batch) ? "to look at" : "under way"}
              since={`started ${onDay(batch.startedAt ?? batch.plannedAt)}`}
              title={bulkDeeds[batch.deed]?.doing(batch.sites) ?? batch.deed}
              deed={
                <Link to="/batches/$batch" params={{ batch: batch.id }} className={deedLook(batch.state === "stopped")}>
                  {isOver(batch) ? "See what became of it" : "Look at it"}
                </Link>
              }
            >
              {capital(standing(batch))}.{batch.reason && <span className="block text-second">“{batch.reason}”</span>}
            </Item>
          ))}
          {byHand.map((line) => (
            <HandItem key={line.order} line={line} isMine={line.to.mail === me?.mail} />
          ))}
          {data?.approvals.map((approval) => (
            <Item
              key={approval.id}
              when={approval.mayAnswer ? "waiting" : "asked"}
              since={`through ${onDate(approval.through)}`}
              title={`${deedNames[approval.deed] ?? approval.deed}: ${approval.title}`}
              deed={
                (me?.role === "administrator" || me?.role === "auditor" || me?.mail === approval.by.mail) && (
                  <Link
                    to="/approvals/$approval"
                    params={{ approval: approval.id }}
                    className={deedLook(approval.mayAnswer)}
                  >
                    {approval.mayAnswer ? "Look and answer" : "Look at it"}
                  </Link>
                )
              }
            >
              {me?.mail === approval.by.mail ? "You asked" : `${approval.by.name} asks`} for a second person.{" "}
              {approval.because}
              {approval.reason && <span className="block text-second">“{approval.reason}”</span>}
            </Item>
          ))}
          {data?.offers.map((offer) => (
            <Item
              key={offer.id}
              when={offer.daysLeft <= 0 ? "today" : counted(offer.daysLeft, "day")}
              since={`lapses after ${onDate(offer.through)}`}
              title={`${offer.to.name} has not answered the offer of ${offer.title}`}
              deed={
                <Link to="/offers/$offer" params={{ offer: offer.id }} className={deedLook(false)}>
                  Look at the offer
                </Link>
              }
            >
              Offered on {onDay(offer.offeredAt)}
              {offer.giver ? `; the key is ${offer.giver.name}'s` : ""}. A reminder goes out two days before it lapses.
            </Item>
          ))}
          {data?.heard.map((stay) => (
            <Item
              key={stay.site}
              when={stay.clock?.left ?? "under way"}
              since={stay.clock ? "to bring it back" : stayWords[stay.state]}
              title={`${stay.by?.name ?? "Somebody"} ${stay.state === "announced" ? "is putting away" : "put away"} ${stay.title}`}
              deed={
                <Link to="/attic" search={{ site: stay.site }} className={deedLook(false)}>
                  {stay.state === "announced" ? "Look at it" : "Look, bring back"}
                </Link>
              }
            >
              {stay.atHost ? `${stay.isOurs ? "Shut" : "Deleted"} at ${stay.host} itself` : "By its owner"} on{" "}
              {onDay(stay.putAwayAt ?? stay.askedAt)}. {stay.reason ? `“${stay.reason}” ` : ""}
              {stay.clock?.words}
            </Item>
          ))}
          {data?.groups.map((group) => (
            <GroupItem
              key={group.person ? `person ${group.person.id}` : `rule ${group.rule?.id ?? ""}`}
              group={group}
            />
          ))}
        </ul>
      </main>
    </>
  );
}

const deedLook = (isFirst: boolean) =>
  `inline-block rounded-[4px] border px-3 py-1.5 text-[13px] font-semibold ${isFirst ? "border-cover bg-cover text-cover-ink dark:border-brass" : "border-rule-strong bg-sheet hover:bg-bar"}`;

function Item(props: { when: string; since: string; title: string; deed: ReactNode; children: ReactNode }) {
  return (
    <li className="flex border-b border-rule odd:bg-sheet even:bg-bar">
      <p className="w-[126px] shrink-0 border-r-4 border-double border-rule-strong py-3 pr-3 text-right">
        <span className="font-title text-[18px] leading-tight font-semibold">{props.when}</span>
        <span className="block text-[12.5px] text-second">{props.since}</span>
      </p>
      <div className="min-w-0 flex-1 px-4 py-3">
        <h2 className="text-[16px]">
          <bdi>{props.title}</bdi>
        </h2>
        <div className="mt-0.5 max-w-[76ch] text-second">{props.children}</div>
      </div>
      <p className="shrink-0 py-3 pr-5">{props.deed}</p>
    </li>
  );
}

// What others are about to do in time needs nobody's decision.
const wantsDesk = (line: HandLine, mine: string | undefined) =>
  line.state === "sent"
    ? line.to.mail === mine || line.isOverdue || line.returned > 0
    : line.state === "confirmed" && line.to.mail !== mine;

function HandItem({ line, isMine }: { line: HandLine; isMine: boolean }) {
  return (
    <Item
      when={line.state === "confirmed" ? "to look at" : line.isOverdue ? "overdue" : isMine ? "to do" : "came back"}
      since={line.state === "confirmed" ? "by somebody else" : `by ${onDate(line.through)}`}
      title={handTitle(line)}
      deed={
        <Link to="/by-hand/$order" params={{ order: line.order }} className={deedLook(isMine)}>
          {isMine ? "See the steps" : line.state === "confirmed" ? "Look whether it is so" : "Look at it"}
        </Link>
      }
    >
      {line.wanted.join(" ")}{" "}
      {isMine
        ? "You have it to do"
        : `${line.to.name} ${line.state === "confirmed" ? "says that it is done" : "has it to do"}`}{" "}
      at {line.host}
      {line.returned > 0 ? "; it came back, because it was not so" : ""}.
    </Item>
  );
}

function GroupItem({ group }: { group: Group }) {
  const { person, rule } = group;
  const title = person
    ? group.standing === "left"
      ? `${person.name} has left and still holds keys of ${counted(group.count, "site")}`
      : `${person.name} leaves${group.day ? ` on ${onDate(group.day)}` : ""} and holds keys of ${counted(group.count, "site")}`
    : `${rule?.title ?? ""}: ${counted(group.count, "site")} ${group.count === 1 ? "does" : "do"} not keep it`;
  const sites = listed([
    ...group.sites.slice(0, 3).map((site) => site.title),
    ...(group.count > 3 ? [`${inWords(group.count - 3)} more`] : []),
  ]);
  return (
    <Item
      when={group.daysLeft === null ? "no day" : group.daysLeft === 0 ? "today" : counted(group.daysLeft, "day")}
      since={person ? (group.standing === "left" ? "nobody left to ask" : "to act") : (rule?.id ?? "")}
      title={title}
      deed={
        person ? (
          <Link to="/keys" search={{ person: person.id }} className={deedLook(true)}>
            See the keys
          </Link>
        ) : (
          <Link to="/" search={{ rule: rule?.id ?? "" }} className={deedLook(true)}>
            See the {counted(group.count, "site")}
          </Link>
        )
      }
    >
      {group.onlyOwner > 0 && `The only fit owner, or the last one, of ${inWords(group.onlyOwner)}. `}
      {sites}.
      <Squares group={group} />
    </Item>
  );
}

function Squares({ group }: { group: Group }) {
  const all = [
    ...Array.from({ length: group.must }, () => "fill-madder"),
    ...Array.from({ length: group.should }, () => "fill-[var(--should)]"),
    ...Array.from({ length: group.look }, () => "fill-[var(--inside-lane)]"),
  ].slice(0, mostSquares);
  const words = [
    group.must > 0 ? `${group.must} must` : null,
    group.should > 0 ? `${group.should} should` : null,
    group.look > 0 ? `${group.look} look` : null,
  ].filter((word) => word !== null);
  return (
    <span className="mt-1.5 flex items-center gap-2 text-[12.5px]">
      <svg width={all.length * 12} height="12" aria-hidden="true">
        {all.map((look, place) => (
          <rect key={place} x={place * 12} y="0" width="9" height="12" className={look} />
        ))}
      </svg>
      {words.join(", ")}
    </span>
  );
}
