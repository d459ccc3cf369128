import { labels } from "../api/labels";
import clsx from "clsx";
import type { Schema } from "../api/client";

/** A bar that fills as the time passes and is full at the end. The text next to it says the same. */
export function TimeBar({ atticEntry }: { atticEntry: Schema["AtticEntry"] }) {
  const clock = atticEntry.clock;
  if (!clock) return <span className="text-second">{labels.AtticState[atticEntry.state]}</span>;
  const width = Math.round(Math.min(1, clock.passed) * 106);
  const isHeld = atticEntry.holds.length > 0;
  return (
    <span className="flex items-center gap-2">
      <svg width="110" height="16" viewBox="0 0 110 16" aria-hidden="true" className="shrink-0">
        <rect x="0.5" y="0.5" width="109" height="15" rx="2" className="fill-transparent stroke-rule-strong" />
        <rect
          x="2"
          y="2"
          width={width}
          height="12"
          className={clsx(
            isHeld ? "fill-slate" : clock.daysLeft < 7 ? "fill-[var(--soon)]" : "fill-[var(--inside-band)]",
          )}
        />
        {[27, 54, 81].map((x) => (
          <path key={x} d={`M${x} 1V15`} className="stroke-sheet" />
        ))}
      </svg>
      <span className={clsx("whitespace-nowrap", clock.daysLeft < 7 && !isHeld && "font-semibold text-madder")}>
        {isHeld ? `held, ${clock.left}` : clock.isDue && clock.left === "over" ? "over" : clock.left}
      </span>
    </span>
  );
}
