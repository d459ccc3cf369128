import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useEffect } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { manualTaskTitle, useManualTasks, type ManualTaskRow } from "../manual-tasks/useManualTasks";
import { whoWasAsked } from "../site-parts/Question";
import { GroupItem, titleOf } from "./GroupItem";
import { actionLook, Item, useItemKeys } from "./Item";
import { asDecisions, PeopleItem } from "./PeopleItem";
import { TakeUp } from "./PutOff";
import { stateOf } from "../starting/SiteRequestRows";
import { useSiteRequests } from "../starting/useSiteRequests";
import { useBatches } from "../batches/useBatches";
import { countOf, doingOf, isOver, standing } from "../batches/words";
import { capital, counted, digits, onDate, onDay, weekday } from "../ui/words";

type Group = Schema["Group"];

/** The decisions of the day: requests first, then findings, grouped by person or rule. */
export function DeskPage() {
  const me = useMe();
  const desk = useQuery({ queryKey: ["desk"], queryFn: () => ok(api.GET("/api/desk")) });
  useEffect(() => {
    document.title = "Desk · Attic Ledger";
  }, []);
  const list = useItemKeys();
  const data = desk.data;
  // A batch that ended as planned needs no decision.
  const batches = (useBatches().data ?? []).filter(
    (batch) => batch.state !== "ended" || countOf(batch, "under-way", "changed", "host-refused", "contradicted") > 0,
  );
  const manualTasks = (useManualTasks().data ?? []).filter((line) => wantsDesk(line, me?.mail));
  const siteRequests = (useSiteRequests().data?.open ?? []).filter(
    (line) => line.mayAnswer || line.state === "stopped" || (line.isByHand && line.step === "site"),
  );
  const groups = data?.groups ?? [];
  const decisions = asDecisions(groups.filter(({ critical, warnings }) => critical + warnings > 0));
  const notes = groups.filter(({ critical, warnings }) => critical + warnings === 0);
  const requests = data
    ? data.approvals.length +
      data.offers.length +
      data.movedRecently.length +
      data.notDone.length +
      data.questions.length +
      batches.length +
      siteRequests.length +
      manualTasks.length
    : 0;
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">{data ? `${weekday(data.today)}'s desk` : "Desk"}</h1>
          <p role="status" className="text-second">
            {data
              ? `${counted(decisions.length, "decision")} with ${counted(data.findings, "finding")}; ${requests === 0 ? "nothing else waits for you" : `${requests} other ${requests === 1 ? "task waits" : "tasks wait"} for you`}.`
              : (desk.error?.message ?? "…")}
          </p>
          {data?.since && <SinceVisit since={data.since} />}
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {data && requests === 0 && data.groups.length + data.putOff.length === 0 && (
          <div className="p-8">
            <h2 className="text-[18px]">Nothing needs you</h2>
            <p className="mt-2 text-second">
              Sites that break a rule and requests of other people appear here.{" "}
              {data.sites > 0
                ? "At the moment no site in your scope breaks a rule and nobody waits for your answer."
                : "There is no site in your scope yet."}
              {data.sites === 0 && me?.role === "administrator" && (
                <>
                  {" "}
                  <Link to="/sources" className="text-ink underline">
                    Connect a host or import a list
                  </Link>{" "}
                  first.
                </>
              )}
            </p>
          </div>
        )}
        <ul ref={list}>
          {batches.map((batch) => (
            <Item
              key={batch.id}
              when={batch.state === "stopped" ? "stopped" : isOver(batch) ? "to review" : "under way"}
              since={`started ${onDay(batch.startedAt ?? batch.plannedAt)}`}
              title={doingOf(batch)}
              action={
                <Link
                  to="/batches/$batch"
                  params={{ batch: batch.id }}
                  className={actionLook(batch.state === "stopped")}
                >
                  {isOver(batch) ? "See the result" : "See the progress"}
                </Link>
              }
            >
              {capital(standing(batch))}.{batch.reason && <span className="block text-second">“{batch.reason}”</span>}
            </Item>
          ))}
          {manualTasks.map((line) => (
            <ManualTaskItem key={line.hostChange} line={line} isMine={line.to.mail === me?.mail} />
          ))}
          {siteRequests.map((line) => (
            <Item
              key={line.id}
              when={line.mayAnswer ? "to answer" : line.state === "stopped" ? "stopped" : "by hand"}
              since={line.mayAnswer ? `until the end of ${onDate(line.through)}` : `since ${onDay(line.requestedAt)}`}
              title={`${line.by.name} asks for a site: ${line.name}`}
              action={
                <Link
                  to="/site-requests/$request"
                  params={{ request: line.id }}
                  className={actionLook(line.mayAnswer || line.state === "stopped")}
                >
                  {line.mayAnswer ? "Review and answer" : "See the request"}
                </Link>
              }
            >
              {line.kind} on {line.host}, at <span className="font-address">{line.address}</span>.
              {!line.mayAnswer && ` ${capital(stateOf(line))}.`}
            </Item>
          ))}
          {data?.notDone.map((change) => (
            <Item
              key={change.hostChange}
              when={change.state === "contradicted" ? "differs" : "refused"}
              since={`requested on ${onDay(change.requestedAt)}`}
              title={`${change.title}: ${purposes[change.purpose]} ${notDone[change.state] ?? "was not done"}`}
              action={
                <Link to="/sites/$site" params={{ site: change.site.toString() }} className={actionLook(false)}>
                  See the site
                </Link>
              }
            >
              {me?.mail === change.by.mail ? "You" : change.by.name} asked {change.host} for it.
              {change.hostMessage && (
                <>
                  {" "}
                  {change.host} says: <bdi>{change.hostMessage}</bdi>
                </>
              )}
            </Item>
          ))}
          {data?.questions.map(({ site, title, rule, question }) => (
            <Item
              key={question.id}
              when="answered"
              since={`${rule.id}, ${rule.short}`}
              title={`${title}: ${question.answer ? labels.QuestionAnswer[question.answer] : ""}`}
              action={
                <Link to="/sites/$site" params={{ site: site.toString() }} className={actionLook(true)}>
                  {me?.role === "auditor" ? "See the site" : "Decide"}
                </Link>
              }
            >
              {whoWasAsked(question)}
            </Item>
          ))}
          {data?.approvals.map((approval) => (
            <Item
              key={approval.id}
              when={approval.mayAnswer ? "to answer" : "waiting"}
              since={`until the end of ${onDate(approval.through)}`}
              title={`${approval.actionLabel}: ${approval.title}`}
              action={
                (me?.role === "administrator" || me?.role === "auditor" || me?.mail === approval.by.mail) && (
                  <Link
                    to="/approvals/$approval"
                    params={{ approval: approval.id }}
                    className={actionLook(approval.mayAnswer)}
                  >
                    {approval.mayAnswer ? "Review and answer" : "See the request"}
                  </Link>
                )
              }
            >
              {me?.mail === approval.by.mail ? "You asked" : `${approval.by.name} asked`} for a second person.{" "}
              {approval.because}
              {approval.reason && <span className="block text-second">“{approval.reason}”</span>}
            </Item>
          ))}
          {data?.offers.map((offer) => (
            <Item
              key={offer.id}
              when={offer.daysLeft <= 0 ? "today" : counted(offer.daysLeft, "day")}
              since={`lapses after ${onDate(offer.through)}`}
              title={`${offer.to.name} has not answered the offer to own ${offer.title}`}
              action={
                <Link to="/offers/$offer" params={{ offer: offer.id }} className={actionLook(false)}>
                  See the offer
                </Link>
              }
            >
              Offered on {onDay(offer.offeredAt)}
              {offer.currentOwner ? `; ${offer.currentOwner.name} is the owner now` : ""}. The product sends a reminder
              2 days before the offer lapses.
            </Item>
          ))}
          {data?.movedRecently.map((atticEntry) => (
            <Item
              key={atticEntry.site}
              when={atticEntry.clock?.left ?? "under way"}
              since={atticEntry.clock ? "left to restore it" : labels.AtticState[atticEntry.state]}
              title={`${atticEntry.by?.name ?? "Somebody"} ${atticEntry.state === "announced" ? "is moving" : "moved"} ${atticEntry.title} to the attic`}
              action={
                <Link to="/attic" search={{ site: atticEntry.site }} className={actionLook(false)}>
                  {atticEntry.state === "announced" ? "See the entry" : "Review and restore"}
                </Link>
              }
            >
              {atticEntry.atHost
                ? `${atticEntry.isOurs ? "Shut" : "Deleted"} at ${atticEntry.host} itself`
                : "By its owner"}{" "}
              on {onDay(atticEntry.movedToAtticAt ?? atticEntry.requestedAt)}.{" "}
              {atticEntry.reason ? `“${atticEntry.reason}” ` : ""}
              {atticEntry.clock?.words}
            </Item>
          ))}
          {decisions.map(([first, ...others]) => {
            const together = first.together === null ? undefined : data?.together[first.together];
            return together === undefined ? (
              <GroupItem
                key={first.clause}
                group={first}
                mayAct={me?.role !== "auditor"}
                mayPutOff={me?.role === "administrator"}
              />
            ) : (
              <PeopleItem
                key={first.clause}
                groups={[first, ...others]}
                together={together}
                mayAct={me?.role !== "auditor"}
                mayPutOff={me?.role === "administrator"}
              />
            );
          })}
        </ul>
        {data && data.putOff.length > 0 && (
          <WaitingDecisions of={data.putOff} mayTakeUp={me?.role === "administrator"} />
        )}
        {data && notes.length > 0 && <Notes groups={notes} count={data.notes} />}
      </main>
      {groups.length > 0 && (
        <p className="hidden shrink-0 gap-x-6 border-t border-rule-strong px-5 py-1.5 text-[12.5px] text-second md:flex">
          <Key name="↑ ↓">move</Key>
          <Key name="Enter">see the sites</Key>
          <Key name="R">remedy</Key>
          <Key name="P">put off</Key>
        </p>
      )}
    </>
  );
}

/** What became of findings since the last day on which the viewer was here. */
function SinceVisit({ since: { day, opened, cleared, excepted } }: { since: Schema["SinceVisit"] }) {
  const parts = [
    opened > 0 && counted(opened, "finding opened", "findings opened"),
    cleared > 0 && `${digits(cleared)} cleared`,
    excepted > 0 && `${digits(excepted)} excepted`,
  ].filter((part) => part !== false);
  return (
    <p className="ml-auto text-[13px] text-second">
      Since your visit on{" "}
      <Link to="/reports/$report" params={{ report: "findings-by-rule" }} search={{ from: day }} className="underline">
        {onDate(day)}
      </Link>
      : {parts.join(", ") || "no finding opened or cleared"}.
    </p>
  );
}

function Key({ name, children }: { name: string; children: string }) {
  return (
    <span>
      <kbd className="font-text font-bold text-ink">{name}</kbd> {children}
    </span>
  );
}

const purposes: Record<Schema["ChangePurpose"], string> = {
  reach: "the change of access",
  owners: "the change of owner",
  "move-to-attic": "the move to the attic",
  restore: "the restore",
  look: "the change of name, description or logo",
  address: "the change of address",
};
const notDone: Partial<Record<Schema["ChangeState"], string>> = {
  refused: "was refused",
  "given-up": "failed after many attempts",
  contradicted: "is not so any more",
};

// A task that somebody else has, and that is in time, needs no decision.
const wantsDesk = (line: ManualTaskRow, mine: string | undefined) =>
  line.state === "sent"
    ? line.to.mail === mine || line.isOverdue || line.returned > 0
    : line.state === "confirmed" && line.to.mail !== mine;

function ManualTaskItem({ line, isMine }: { line: ManualTaskRow; isMine: boolean }) {
  return (
    <Item
      when={line.state === "confirmed" ? "to check" : line.isOverdue ? "overdue" : isMine ? "to do" : "returned"}
      since={line.state === "confirmed" ? "by another person" : `by the end of ${onDate(line.through)}`}
      title={manualTaskTitle(line)}
      action={
        <Link to="/manual-tasks/$task" params={{ task: line.hostChange }} className={actionLook(isMine)}>
          {isMine ? "See the steps" : line.state === "confirmed" ? "Check the result" : "See the task"}
        </Link>
      }
    >
      {line.wanted.join(" ")}{" "}
      {isMine
        ? "Assigned to you,"
        : `${line.to.name} ${line.state === "confirmed" ? "reports it done" : "has the task"}`}{" "}
      at {line.host}
      {line.returned > 0 ? "; returned, because the result was not as wanted" : ""}.
    </Item>
  );
}

/** Decisions that somebody put off, the next day first. */
function WaitingDecisions({ of, mayTakeUp }: { of: Schema["PutOffGroup"][]; mayTakeUp: boolean }) {
  return (
    <section aria-label="Put off" className="px-5 py-4">
      <h2 className="text-[16px]">Put off</h2>
      <p className="text-second">They come back after their day, or as soon as they concern another site.</p>
      <ul className="mt-2 divide-y divide-rule border-y border-rule text-[13.5px]">
        {of.map(({ group, through, reason, by }) => (
          <li key={group.clause} className="flex flex-wrap items-baseline gap-x-4 py-1.5">
            <Link to="/" search={{ where: [group.clause] }} className="underline">
              <bdi>{titleOf(group)}</bdi>
            </Link>
            <span className="text-second">
              until the end of {onDate(through)}, by {by.name}: “<bdi>{reason}</bdi>”
            </span>
            {mayTakeUp && <TakeUp decision={group.clause} title={titleOf(group)} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What is good to know: it has no date and waits for nobody. */
function Notes({ groups, count }: { groups: Group[]; count: number }) {
  return (
    <section aria-label="Notes" className="px-5 py-4">
      <h2 className="text-[16px]">Notes</h2>
      <p className="text-second">
        {counted(count, "finding")} of rules whose level is note: good to know, without a date.
      </p>
      <ul className="mt-2 columns-1 gap-x-8 text-[13.5px] md:columns-2">
        {groups.map((group) => (
          <li key={group.clause} className="flex break-inside-avoid gap-3 border-b border-rule py-1">
            <Link to="/" search={{ where: [group.clause] }} className="w-[5.5em] shrink-0 text-right underline">
              {counted(group.count, "site")}
            </Link>
            <span className="min-w-0">
              {group.rule?.title} <span className="text-second">{group.rule?.id}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
