import { Link } from "@tanstack/react-router";
import { onDate } from "../ledger/words";
import { handTitle, type HandLine } from "./useHandOrders";

/** Orders by hand in a list, each with where it stands. */
export function HandLines({ lines, label }: { lines: HandLine[]; label: string }) {
  if (lines.length === 0) return null;
  return (
    <section className="mt-5" aria-label={label}>
      <h2 className="text-[17px]">{label}</h2>
      <ul>
        {lines.map((line) => (
          <li key={line.order} className="mt-2 border-l-[6px] border-brass bg-bookmark px-3 py-2">
            <Link to="/by-hand/$order" params={{ order: line.order }} className="font-semibold underline">
              <bdi>{handTitle(line)}</bdi>
            </Link>
            <p className="text-[13px]">
              {line.wanted.join(" ")}{" "}
              <span className={line.isOverdue ? "font-semibold text-madder" : ""}>
                {line.isOverdue ? "Overdue since" : "By the end of"} {onDate(line.through)}.
              </span>
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
