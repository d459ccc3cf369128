import { Link } from "@tanstack/react-router";
import type { Schema } from "../api/client";
import { counted, digits, onDate } from "../ui/words";
import { Remedies, Squares } from "./GroupItem";
import { Item } from "./Item";
import { PutOff } from "./PutOff";

type Group = Schema["Group"];

/** At least one group; several are decided together. */
export type Decision = [Group, ...Group[]];

// Of owners who leave later than this, none is urgent: they are decided together.
const soonDays = 14;

/** People who left and still have access at a host are one decision, and so are owners who leave much later. */
export function asDecisions(groups: Group[]): Decision[] {
  const decisions: Decision[] = [];
  const together = new Map<string, Decision>();
  for (const group of groups) {
    const key =
      group.cause === "still-has-access"
        ? `left at ${group.host ?? ""}`
        : group.cause === "owner-leaves" && (group.daysLeft ?? 0) > soonDays
          ? "leaves later"
          : null;
    const known = key === null ? undefined : together.get(key);
    if (known) known.push(group);
    else {
      const decision: Decision = [group];
      decisions.push(decision);
      if (key !== null) together.set(key, decision);
    }
  }
  return decisions;
}

/** Several people with one kind of cause: each with the sites and what can be done. */
export function PeopleItem({ groups, mayAct, mayPutOff }: { groups: Decision; mayAct: boolean; mayPutOff: boolean }) {
  const [first] = groups;
  const sum = (of: (group: Group) => number) => groups.reduce((all, group) => all + of(group), 0);
  const hasLeft = first.cause === "still-has-access";
  const host = first.host ?? "the host";
  const last = groups.at(-1)?.day;
  const throughGroups = groups.some((group) => group.byName < group.count);
  const title = hasLeft
    ? `${digits(groups.length)} people who left still have access at ${host}`
    : `${digits(groups.length)} owners leave${last ? ` by ${onDate(last)}` : ""}, and their sites will have too few active owners`;
  return (
    <Item
      when={hasLeft ? "today" : counted(first.daysLeft ?? 0, "day")}
      since={hasLeft ? "access to remove" : "left to act"}
      title={title}
      action={mayPutOff && <PutOff groups={groups} title={title} />}
    >
      <ul className="flex flex-wrap gap-x-4">
        {groups.map((group) => (
          <li key={group.clause} className="flex items-baseline gap-2">
            <Link to="/" search={{ where: [group.clause] }} className="inline-block min-h-6 text-ink underline">
              <bdi>{group.person?.name}</bdi> ({counted(group.count, "site")})
            </Link>
            {!hasLeft && group.day && <span>{onDate(group.day)}</span>}
            {mayAct && hasLeft && group.byName > 0 && group.person && (
              <Link
                to="/remove-access"
                search={{ person: group.person.id, host: group.host ?? "" }}
                aria-label={`Remove the access of ${group.person.name} …`}
                className="inline-block min-h-6 font-semibold text-ink underline"
              >
                Remove …
              </Link>
            )}
            {mayAct && !hasLeft && <Remedies group={group} isSmall />}
          </li>
        ))}
      </ul>
      {hasLeft && throughGroups && (
        <span className="block">
          {groups.some((group) => group.byName > 0) ? "The other access is" : "All of it is"} through groups: take them
          out of the groups at {host}; the next sync clears it.
        </span>
      )}
      <Squares
        group={{
          critical: sum((one) => one.critical),
          warnings: sum((one) => one.warnings),
          notes: sum((one) => one.notes),
        }}
      />
    </Item>
  );
}
