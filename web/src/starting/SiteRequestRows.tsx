import { Link } from "@tanstack/react-router";
import type { Schema } from "../api/client";
import { labels } from "../api/labels";
import { onDate } from "../ui/words";

type Line = Schema["SiteRequestLine"];

/** How far a request is: "waits for an answer until 14 Dec", "being made: tags, step 3 of 5". */
export const stateOf = (line: Line) =>
  line.state === "requested"
    ? `${labels.SiteRequestState.requested} until the end of ${onDate(line.through)}`
    : line.step && line.state !== "in-use"
      ? `${labels.SiteRequestState[line.state]}${line.isByHand ? " by hand" : ""}: ${labels.MakingStep[line.step]}, step ${line.done + 1} of ${line.steps}`
      : labels.SiteRequestState[line.state];

/** Requests to start a site with the state of each, as a list of links. */
export function SiteRequestRows({ label, lines }: { label: string; lines: Line[] }) {
  if (lines.length === 0) return null;
  return (
    <section className="mt-6" aria-label={label}>
      <h2 className="text-[17px]">{label}</h2>
      <ul className="mt-1 divide-y divide-rule border-y border-rule">
        {lines.map((line) => (
          <li key={line.id} className="py-2">
            <Link
              to="/site-requests/$request"
              params={{ request: line.id }}
              className="font-semibold underline-offset-2 hover:underline"
            >
              <bdi>{line.name}</bdi>
            </Link>
            <span className="block font-address text-[12.5px] break-all text-second">{line.address}</span>
            <span className={line.state === "stopped" ? "text-[13px] text-madder" : "text-[13px]"}>
              {stateOf(line)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
