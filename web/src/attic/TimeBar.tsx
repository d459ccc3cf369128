import clsx from "clsx";
import type { Wire } from "../api/client";

/** A ruled bar that fills as the time passes; past its end it is full. The words beside it say the same. */
export function TimeBar({ stay }: { stay: Wire["StayWire"] }) {
  const clock = stay.clock;
  if (!clock) return <span className="text-second">{stayWords[stay.state]}</span>;
  const width = Math.round(Math.min(1, clock.passed) * 106);
  const isHeld = stay.holds.length > 0;
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
            isHeld ? "fill-slate" : clock.daysLeft < 7 ? "fill-[var(--soon)]" : "fill-[var(--inside-lane)]",
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

export const stayWords: Record<Wire["StayState"], string> = {
  announced: "announced",
  "going-away": "being put away",
  kept: "in the attic",
  due: "due to be cleared",
  returning: "coming back",
  back: "back in use",
  stopped: "stopped",
  "not-done": "the host refused",
  cleared: "cleared for good",
};

const units = ["bytes", "kB", "MB", "GB", "TB"];

/** "1.2 GB", in powers of a thousand. */
export function inBytes(bytes: number): string {
  let size = bytes;
  let unit = 0;
  while (size >= 999.5 && unit < units.length - 1) {
    size /= 1000;
    unit++;
  }
  return `${unit === 0 || size >= 99.5 ? Math.round(size) : size.toPrecision(2)} ${units[unit] ?? ""}`;
}
