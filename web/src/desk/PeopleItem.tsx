import { Link } from "@tanstack/react-router";
import type { Schema } from "../api/client";
import { counted, digits, onDate } from "../ui/words";
import { Remedies, Squares } from "./GroupItem";
import { Item } from "./Item";
import { PutOff } from "./PutOff";

type Group = Schema["Group"];
type Together = Schema["Together"];

/** At least one group; several are decided together. */
export type Decision = [Group, ...Group[]];

/** Groups of several people can be one decision. */
export function asDecisions(groups: Group[]): Decision[] {
  const decisions: Decision[] = [];
  const together = new Map<number, Decision>();
  for (const group of groups) {
    const known = group.together === null ? undefined : together.get(group.together);
    if (known) known.push(group);
    else {
      const decision: Decision = [group];
      decisions.push(decision);
      if (group.together !== null) together.set(group.together, decision);
    }
  }
  return decisions;
}

function titleOf({ kind, host, people, lastDay }: Together): string {
  const many = digits(people);
  switch (kind) {
    case "still-have-access":
      return `${many} people who left still have access at ${host ?? "the host"}`;
    case "owners-left":
      return `${many} owners have left or leave today, and their sites have too few active owners`;
    default:
      return `${many} owners leave${lastDay ? ` by ${onDate(lastDay)}` : ""}, and their sites will have too few active owners`;
  }
}

/** Several people with one kind of cause: each with the sites and what can be done. Of many the first are shown. */
export function PeopleItem(props: { groups: Decision; together: Together; mayAct: boolean; mayPutOff: boolean }) {
  const { groups, together, mayAct, mayPutOff } = props;
  const [first] = groups;
  const hasAccess = together.kind === "still-have-access";
  const host = together.host ?? "the host";
  const more = together.people - groups.length;
  const title = titleOf(together);
  return (
    <Item
      when={first.daysLeft ? counted(first.daysLeft, "day") : "today"}
      since={hasAccess ? "access to remove" : together.kind === "owners-left" ? "owners are needed" : "left to act"}
      title={title}
      action={mayPutOff && more === 0 && <PutOff groups={groups} title={title} />}
    >
      <ul className="flex flex-wrap gap-x-4">
        {groups.map((group) => (
          <li key={group.clause} className="flex items-baseline gap-2">
            <Link to="/" search={{ where: [group.clause] }} className="inline-block min-h-6 text-ink underline">
              <bdi>{group.person?.name}</bdi> ({counted(group.count, "site")})
            </Link>
            {group.daysLeft !== 0 && group.day && <span>{onDate(group.day)}</span>}
            {mayAct && hasAccess && group.byName > 0 && group.person && (
              <Link
                to="/remove-access"
                search={{ person: group.person.id, host: group.host ?? "" }}
                aria-label={`Remove the access of ${group.person.name} …`}
                className="inline-block min-h-6 font-semibold text-ink underline"
              >
                Remove …
              </Link>
            )}
            {mayAct && !hasAccess && <Remedies group={group} isSmall />}
          </li>
        ))}
      </ul>
      {more > 0 && (
        <span className="block">
          {digits(more)} more are shown once these are decided.{" "}
          {hasAccess ? (
            <Link to="/" search={{ filter: `causes ew " at ${host}"` }} className="text-ink underline">
              See the sites of all
            </Link>
          ) : (
            <Link to="/owners" className="text-ink underline">
              See the owners of all sites
            </Link>
          )}
        </span>
      )}
      {hasAccess && together.through > 0 && (
        <span className="block">
          {together.byName > 0 ? "The other access is" : "All of it is"} through groups: take them out of the groups at{" "}
          {host}; the next sync clears it.
        </span>
      )}
      <Squares group={together} />
    </Item>
  );
}
