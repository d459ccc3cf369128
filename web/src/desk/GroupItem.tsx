import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { api, ok, type Schema } from "../api/client";
import { labels } from "../api/labels";
import { counted, digits, listed, onDate, onDay } from "../ui/words";
import { actionLook, Item } from "./Item";
import { PutOff } from "./PutOff";

type Group = Schema["Group"];

const mostSquares = 40;

export function titleOf(group: Group): string {
  const { person, rule } = group;
  return person
    ? group.cause === "still-has-access"
      ? `${person.name} left${group.day ? ` on ${onDate(group.day)}` : ""} and still has access to ${counted(group.count, "site")} at ${group.host ?? ""}`
      : group.standing === "left"
        ? `${person.name} has left: ${counted(group.count, "site")} ${group.count === 1 ? "has" : "have"} too few active owners`
        : `${person.name} leaves${group.day ? ` on ${onDate(group.day)}` : ""}: ${counted(group.count, "site")} ${group.count === 1 ? "has" : "have"} too few active owners`
    : `${rule?.title ?? ""}: ${counted(group.count, "site")} ${group.count === 1 ? "breaks" : "break"} this rule`;
}

/** A group of findings that is decided as one. */
export function GroupItem({ group, mayAct, mayPutOff }: { group: Group; mayAct: boolean; mayPutOff: boolean }) {
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
        <span className="flex flex-col items-end gap-1">
          <span className="flex flex-row-reverse flex-wrap gap-1.5">
            {mayAct && <Remedies group={group} />}
            {group.cause === "still-has-access" && person && mayAct && group.byName > 0 && (
              <Link
                to="/remove-access"
                search={{ person: person.id, host: group.host ?? "" }}
                data-does="remedy"
                className={actionLook(true)}
              >
                Remove the access …
              </Link>
            )}
            <Link to="/" search={{ where: [group.clause] }} data-does="open" className={actionLook(false)}>
              See the {counted(group.count, "site")}
            </Link>
          </span>
          {mayPutOff && <PutOff groups={[group]} title={titleOf(group)} />}
        </span>
      }
    >
      {group.onlyOwner > 0 && `The only or last active owner of ${digits(group.onlyOwner)}. `}
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
    </Item>
  );
}

/** What the product can do about a group: a plan for each of its sites, or the page on which its fact is set. */
export function Remedies({ group, isSmall = false }: { group: Group; isSmall?: boolean }) {
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
        <Link to="/classification" search={{ fact }} data-does="remedy" className={actionLook(true)}>
          Set the {labels.ClaimedFact[fact]} …
        </Link>
      )
    );
  }
  if (group.remedies.includes("tell-apart")) {
    return (
      <Link to="/twins" data-does="remedy" className={actionLook(true)}>
        Near names …
      </Link>
    );
  }
  const label = isSmall
    ? "Plan …"
    : group.count === 1
      ? "Plan the remedy …"
      : `Plan remedies for ${group.atOnce < group.count ? "the first " : ""}${digits(group.atOnce)} …`;
  return group.remedies.length === 0 ? null : (
    <>
      <button
        type="button"
        className={isSmall ? "min-h-6 font-semibold text-ink underline" : actionLook(true)}
        data-does={isSmall ? undefined : "remedy"}
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

/** Access through a group is changed in the group, at its host. */
const whereElse = (group: Group) =>
  group.byName === 0
    ? `Through groups, which are changed at ${group.host ?? "the host"}.`
    : `By name on ${group.byName.toLocaleString("en-GB")} of them; on the others through groups, which are changed at ${group.host ?? "the host"}.`;

export function Squares({ group }: { group: Pick<Group, "critical" | "warnings" | "notes"> }) {
  const all = [
    ...Array.from({ length: group.critical }, () => "fill-madder"),
    ...Array.from({ length: group.warnings }, () => "fill-[var(--should)]"),
    ...Array.from({ length: group.notes }, () => "fill-[var(--inside-band)]"),
  ].slice(0, mostSquares);
  const words = [
    group.critical > 0 ? `${digits(group.critical)} critical` : null,
    group.warnings > 0 ? `${digits(group.warnings)} warning` : null,
    group.notes > 0 ? `${digits(group.notes)} note` : null,
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
