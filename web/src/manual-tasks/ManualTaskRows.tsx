import { Link } from "@tanstack/react-router";
import { onDate } from "../ui/words";
import { manualTaskTitle, type ManualTaskRow } from "./useManualTasks";

/** Manual tasks in a list, each with its state. */
export function ManualTaskRows({ lines, label }: { lines: ManualTaskRow[]; label: string }) {
  if (lines.length === 0) return null;
  return (
    <section className="mt-5" aria-label={label}>
      <h2 className="text-[17px]">{label}</h2>
      <ul>
        {lines.map((line) => (
          <li key={line.hostChange} className="mt-2 border-l-[6px] border-brass bg-bookmark px-3 py-2">
            <Link to="/manual-tasks/$task" params={{ task: line.hostChange }} className="font-semibold underline">
              <bdi>{manualTaskTitle(line)}</bdi>
            </Link>
            <p className="text-[13px]">
              {line.wanted.join(" ")}{" "}
              <span className={line.isOverdue ? "font-semibold text-madder" : ""}>
                {line.isOverdue ? "Overdue since" : "Due at the end of"} {onDate(line.through)}.
              </span>
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
