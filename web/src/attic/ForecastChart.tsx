import { useState } from "react";
import type { Schema } from "../api/client";
import { counted, inBytes, onDate } from "../ui/words";

type Day = Schema["Freed"];

const height = 72;
const step = 18;

/** Storage freed day by day: a bar for each day, a line for the total. A table has the same numbers. */
export function ForecastChart({ days }: { days: Day[] }) {
  const [asTable, setTable] = useState(false);
  const last = days[days.length - 1];
  const most = Math.max(1, ...days.map((day) => day.bytes));
  const all = Math.max(1, last?.bytesSoFar ?? 0);
  const width = days.length * step;
  const line = days
    .map(
      (day, place) =>
        `${place === 0 ? "M" : "L"}${place * step + step / 2} ${height - (day.bytesSoFar / all) * (height - 6)}`,
    )
    .join("");
  const freeing = days.filter((day) => day.sites > 0);
  return (
    <figure className="shrink-0 border-b border-rule-strong px-5 pb-2">
      <figcaption className="flex items-baseline justify-between gap-4 text-[12.5px] text-second">
        <span>
          Storage that the hosts free in the next {days.length} days, if no site is restored:{" "}
          {inBytes(last?.bytesSoFar ?? 0)} from{" "}
          {counted(
            freeing.reduce((sum, day) => sum + day.sites, 0),
            "site",
          )}
        </span>
        <button type="button" className="underline" aria-expanded={asTable} onClick={() => setTable(!asTable)}>
          {asTable ? "As a chart" : "As a table"}
        </button>
      </figcaption>
      {asTable ? (
        <div className="max-h-[110px] overflow-auto">
          <table className="mt-1 text-[13px]">
            <thead>
              <tr className="text-left text-second">
                <th scope="col" className="pr-6 font-normal">
                  Day
                </th>
                <th scope="col" className="pr-6 text-right font-normal">
                  Sites
                </th>
                <th scope="col" className="pr-6 text-right font-normal">
                  Freed
                </th>
                <th scope="col" className="pr-6 text-right font-normal">
                  So far
                </th>
                <th scope="col" className="font-normal">
                  Size not known
                </th>
              </tr>
            </thead>
            <tbody>
              {freeing.map((day) => (
                <tr key={day.day}>
                  <th scope="row" className="pr-6 text-left font-normal">
                    {onDate(day.day)}
                  </th>
                  <td className="pr-6 text-right">{day.sites}</td>
                  <td className="pr-6 text-right">{inBytes(day.bytes)}</td>
                  <td className="pr-6 text-right">{inBytes(day.bytesSoFar)}</td>
                  <td>{day.unmeasured > 0 ? counted(day.unmeasured, "site") : ""}</td>
                </tr>
              ))}
              {freeing.length === 0 && (
                <tr>
                  <td colSpan={5}>No storage is freed on these days.</td>
                </tr>
              )}
            </tbody>
          </table>
        </div>
      ) : (
        <svg
          viewBox={`0 0 ${width} ${height + 18}`}
          className="mt-1 h-[90px] w-full"
          preserveAspectRatio="none"
          role="img"
          aria-label="Storage freed by day; the table has the same numbers"
        >
          {days.map((day, place) => {
            const tall = (day.bytes / most) * (height - 10);
            return (
              <g key={day.day}>
                {day.sites > 0 && (
                  <rect
                    x={place * step + 2}
                    y={height - Math.max(2, tall)}
                    width={step - 4}
                    height={Math.max(2, tall)}
                    className={place < 7 ? "fill-[var(--soon)]" : "fill-[var(--inside-band)]"}
                  >
                    <title>{`${onDate(day.day)}: ${inBytes(day.bytes)} from ${counted(day.sites, "site")}`}</title>
                  </rect>
                )}
              </g>
            );
          })}
          <path d={line} className="fill-none stroke-slate" strokeWidth="2" vectorEffect="non-scaling-stroke" />
          <path d={`M0 ${height}H${width}`} className="stroke-rule-strong" vectorEffect="non-scaling-stroke" />
        </svg>
      )}
      {!asTable && (
        <div aria-hidden="true" className="-mt-3.5 flex justify-between text-[12px] text-second">
          <span>today</span>
          {[1, 2, 3, 4].map((part) => (
            <span key={part}>
              {onDate(days[Math.min(days.length - 1, Math.round((days.length * part) / 4) - 1)]?.day ?? "")}
            </span>
          ))}
        </div>
      )}
    </figure>
  );
}
