import { labels } from "../api/labels";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useEffect, type ReactNode } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { manualTaskTitle, useManualTasks, type ManualTaskRow } from "../manual-tasks/useManualTasks";
import { whoWasAsked } from "../site-parts/Question";
import { PutOff, TakeUp } from "./PutOff";
import { useBatches } from "../batches/useBatches";
import { countOf, doingOf, isOver, standing } from "../batches/words";
import { capital, counted, digits, listed, onDate, onDay, weekday } from "../ui/words";

type Group = Schema["Group"];

const mostSquares = 40;

/** The decisions of the day: requests first, then findings, grouped by person or rule. */
export function DeskPage() {
  const me = useMe();
  const desk = useQuery({ queryKey: ["desk"], queryFn: () => ok(api.GET("/api/desk")) });
  useEffect(() => {
    document.title = "Desk · Attic Ledger";
  }, []);
  const data = desk.data;
  // A batch that ended as planned needs no decision.
  const batches = (useBatches().data ?? []).filter(
    (batch) => batch.state !== "ended" || countOf(batch, "under-way", "changed", "host-refused", "contradicted") > 0,
  );
  const manualTasks = (useManualTasks().data ?? []).filter((line) => wantsDesk(line, me?.mail));
  const groups = data?.groups ?? [];
  const decisions = togetherAtHosts(groups.filter(({ critical, warnings }) => critical + warnings > 0));
  const notes = groups.filter(({ critical, warnings }) => critical + warnings === 0);
  const requests = data
    ? data.approvals.length +
      data.offers.length +
      data.movedRecently.length +
      data.notDone.length +
      data.questions.length +
      batches.length +
      manualTasks.length
    : 0;
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">{weekday()}'s desk</h1>
          <p role="status" className="text-second">
            {data
              ? `${counted(decisions.length, "decision")} with ${counted(data.findings, "finding")}; ${requests === 0 ? "nothing else waits for you" : `${requests} other ${requests === 1 ? "task waits" : "tasks wait"} for you`}.`
              : (desk.error?.message ?? "…")}
          </p>
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {data && requests === 0 && data.groups.length + data.putOff.length === 0 && (
          <div className="p-8">
            <h2 className="text-[18px]">No decision waits for you</h2>
            <p className="mt-2 text-second">
              Sites that break a rule and requests of other people appear here. At the moment no site in your scope
              breaks a rule and nobody waits for your answer.
            </p>
          </div>
        )}
        <ul>
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
          {decisions.map(([first, ...others]) =>
            others.length === 0 ? (
              <GroupItem
                key={first.clause}
                group={first}
                mayAct={me?.role !== "auditor"}
                mayPutOff={me?.role === "administrator"}
              />
            ) : (
              <LeaversItem key={first.clause} groups={[first, ...others]} />
            ),
          )}
        </ul>
        {data && data.putOff.length > 0 && (
          <WaitingDecisions of={data.putOff} mayTakeUp={me?.role === "administrator"} />
        )}
        {data && notes.length > 0 && <Notes groups={notes} count={data.notes} />}
      </main>
    </>
  );
}

const purposes: Record<Schema["ChangePurpose"], string> = {
  reach: "the change of access",
  owners: "the change of owner",
  "move-to-attic": "the move to the attic",
  restore: "the restore",
};
const notDone: Partial<Record<Schema["ChangeState"], string>> = {
  refused: "was refused",
  "given-up": "failed after many attempts",
  contradicted: "is not so any more",
};

const actionLook = (isFirst: boolean) =>
  `inline-block rounded-[4px] border px-3 py-1.5 text-[13px] font-semibold ${isFirst ? "border-cover bg-cover text-cover-ink dark:border-brass" : "border-rule-strong bg-sheet hover:bg-bar"}`;

function Item(props: { when: string; since: string; title: string; action: ReactNode; children: ReactNode }) {
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
      <p className="shrink-0 py-3 pr-5">{props.action}</p>
    </li>
  );
}

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

function titleOf(group: Group): string {
  const { person, rule } = group;
  return person
    ? group.cause === "still-has-access"
      ? `${person.name} left${group.day ? ` on ${onDate(group.day)}` : ""} and still has access to ${counted(group.count, "site")} at ${group.host ?? ""}`
      : group.standing === "left"
        ? `${person.name} has left: ${counted(group.count, "site")} ${group.count === 1 ? "has" : "have"} too few active owners`
        : `${person.name} leaves${group.day ? ` on ${onDate(group.day)}` : ""}: ${counted(group.count, "site")} ${group.count === 1 ? "has" : "have"} too few active owners`
    : `${rule?.title ?? ""}: ${counted(group.count, "site")} ${group.count === 1 ? "breaks" : "break"} this rule`;
}

function GroupItem({ group, mayAct, mayPutOff }: { group: Group; mayAct: boolean; mayPutOff: boolean }) {
  const { person, rule } = group;
  const sites = listed([
    ...group.sites.slice(0, 3).map((site) => site.title),
    ...(group.count > 3 ? [`${digits(group.count - 3)} more`] : []),
  ]);
  return (
    <Item
      when={group.daysLeft === null ? "no date" : group.daysLeft === 0 ? "today" : counted(group.daysLeft, "day")}
      since={
        group.cause === "still-has-access"
          ? "access to remove"
          : person
            ? group.standing === "left"
              ? "nobody left to ask"
              : "left to act"
            : (rule?.id ?? "")
      }
      title={titleOf(group)}
      action={
        <span className="flex flex-col items-end gap-1.5">
          {mayAct && <Remedies group={group} />}
          <Link to="/" search={{ where: [group.clause] }} className={actionLook(false)}>
            See the {counted(group.count, "site")}
          </Link>
          {group.cause === "still-has-access" && person && mayAct && group.byName > 0 && (
            <Link
              to="/remove-access"
              search={{ person: person.id, host: group.host ?? "" }}
              className={actionLook(true)}
            >
              Remove the access …
            </Link>
          )}
        </span>
      }
    >
      {group.onlyOwner > 0 && `The only or last active owner of ${group.onlyOwner}. `}
      {sites}.{group.cause === "still-has-access" && group.byName < group.count && ` ${whereElse(group)}`}
      {group.asked && ` ${whatWasAsked(group.asked)}`}
      {group.began.map((event) => (
        <span key={event.entry} className="block">
          {group.began.length === 1 && event.sites === group.count ? "" : `${digits(event.sites)} of them `}
          since {onDay(event.at)}, when{" "}
          <Link to="/journal" search={{ action: event.action, since: event.at.slice(0, 10) }} className="underline">
            {event.label}
          </Link>
          {event.by && <> by {event.by}</>}.
        </span>
      ))}
      <Squares group={group} />
      {mayPutOff && <PutOff group={group} title={titleOf(group)} />}
    </Item>
  );
}

/** What the product can do about a group: a plan for each of its sites, or the page on which its fact is set. */
function Remedies({ group }: { group: Group }) {
  const navigate = useNavigate();
  const plan = useMutation({
    mutationFn: () => ok(api.POST("/api/batches/remedies", { body: { cause: group.name } })),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  if (group.cause === "still-has-access") return null;
  // Tags are set on the page of each site, or given a meaning in the vocabulary.
  const fact = group.fact === "unit" || group.fact === "classification" || group.fact === "purpose" ? group.fact : null;
  if (group.remedies.includes("set-fact")) {
    return (
      fact && (
        <Link to="/classification" search={{ fact }} className={actionLook(true)}>
          Set the {labels.ClaimedFact[fact]} …
        </Link>
      )
    );
  }
  const label = group.count === 1 ? "Plan the remedy …" : `Plan remedies for ${digits(group.count)} …`;
  return group.remedies.length === 0 ? null : (
    <>
      <button
        type="button"
        className={actionLook(true)}
        disabled={plan.isPending}
        aria-label={`${label} ${titleOf(group)}`}
        onClick={() => plan.mutate()}
      >
        {label}
      </button>
      {plan.error && (
        <span role="alert" className="max-w-[24ch] text-[12.5px] text-madder">
          {plan.error.message}
        </span>
      )}
    </>
  );
}

const whatWasAsked = ({ sites, answered, overdue, restricts }: Schema["AskedOwners"]) =>
  [
    `The owners of ${counted(sites, "site")} were asked; ${answered === 0 ? "no owner has" : `those of ${digits(answered)} have`} answered.`,
    overdue > 0 ? `Their last day has passed, or nobody could be asked, on ${digits(overdue)}.` : "",
    restricts ? `Where nobody answers, access is restricted from ${onDate(restricts)}.` : "",
  ]
    .filter((sentence) => sentence !== "")
    .join(" ");

/** At least one group; several are decided together. */
type Decision = [Group, ...Group[]];

/** Access through groups is changed in the groups at their host, so all people who left and have it there are one decision. */
function togetherAtHosts(groups: Group[]): Decision[] {
  const decisions: Decision[] = [];
  const ofHost = new Map<string, Decision>();
  for (const group of groups) {
    const isThroughGroups = group.cause === "still-has-access" && group.byName === 0;
    const known = isThroughGroups ? ofHost.get(group.host ?? "") : undefined;
    if (known) known.push(group);
    else {
      const decision: Decision = [group];
      decisions.push(decision);
      if (isThroughGroups) ofHost.set(group.host ?? "", decision);
    }
  }
  return decisions;
}

function LeaversItem({ groups: [first, ...others] }: { groups: Decision }) {
  const all = [first, ...others];
  const host = first.host ?? "the host";
  const squares = { ...first, critical: all.reduce((sum, { critical }) => sum + critical, 0) };
  return (
    <Item
      when="today"
      since="access to remove"
      title={`${digits(all.length)} people who left still have access at ${host} through groups`}
      action={null}
    >
      {all.map((group, place) => (
        <span key={group.clause}>
          {place > 0 && ", "}
          <Link to="/" search={{ where: [group.clause] }} className="text-ink underline">
            <bdi>{group.person?.name}</bdi> ({counted(group.count, "site")})
          </Link>
        </span>
      ))}
      . Take them out of the groups at {host}; the next sync clears it.
      <Squares group={squares} />
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

/** Access through a group is changed in the group, at its host. */
const whereElse = (group: Group) =>
  group.byName === 0
    ? `Through groups, which are changed at ${group.host ?? "the host"}.`
    : `By name on ${group.byName.toLocaleString("en-GB")} of them; on the others through groups, which are changed at ${group.host ?? "the host"}.`;

function Squares({ group }: { group: Group }) {
  const all = [
    ...Array.from({ length: group.critical }, () => "fill-madder"),
    ...Array.from({ length: group.warnings }, () => "fill-[var(--should)]"),
    ...Array.from({ length: group.notes }, () => "fill-[var(--inside-band)]"),
  ].slice(0, mostSquares);
  const words = [
    group.critical > 0 ? `${group.critical} critical` : null,
    group.warnings > 0 ? `${group.warnings} warning` : null,
    group.notes > 0 ? `${group.notes} note` : null,
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
