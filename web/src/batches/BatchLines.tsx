import { labels } from "../api/labels";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import { SiteName } from "../site-parts/SiteName";
import { counted, listed } from "../ui/words";
import { outcomeLook } from "./words";

type Line = Schema["BatchLine"];

/** A row for each site, in the order in which they are processed. */
export function BatchLines(props: { lines: Line[]; isPlan: boolean; total: number; onMore: (() => void) | undefined }) {
  const { lines, isPlan, total, onMore } = props;
  return (
    <>
      <table className="w-full text-[13.5px]">
        <thead className="sticky top-0 z-10 bg-sheet">
          <tr className="h-[30px] text-left text-[12px] text-second">
            <th scope="col" className="w-[52px] border-r-4 border-double border-margin-rule pr-2 text-right">
              <span className="sr-only">Line</span>
            </th>
            <th scope="col" className="pl-2">
              Site
            </th>
            <th scope="col">{isPlan ? "Possible" : "State"}</th>
            <th scope="col">Effect</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line, at) => (
            <tr key={line.site} className={clsx("align-top", Math.floor(at / 3) % 2 === 1 ? "bg-bar" : "bg-sheet")}>
              <td className="border-r-4 border-double border-margin-rule py-1.5 pr-2 text-right text-[12px] text-second">
                {at + 1}
              </td>
              <td className="max-w-0 min-w-[220px] py-1.5 pr-3 pl-2">
                <SiteName site={line.site} title={line.title} address={line.address} />
              </td>
              <td
                className={clsx(
                  "w-[36%] py-1.5 pr-3 font-semibold",
                  outcomeLook[isPlan && line.outcome === "waiting" ? "done" : line.outcome],
                )}
              >
                {isPlan && line.outcome === "waiting" ? "can be done" : labels.BatchOutcome[line.outcome]}
                {[...line.refused.map(({ sentence }) => sentence), ...(line.hostMessage ? [line.hostMessage] : [])].map(
                  (why) => (
                    <span key={why} className="block font-normal text-ink">
                      <bdi>{why}</bdi>
                    </span>
                  ),
                )}
                {line.approval && line.outcome === "asks-second" && (
                  <Link
                    to="/approvals/$approval"
                    params={{ approval: line.approval }}
                    className="block font-normal text-ink underline"
                  >
                    Review the request
                  </Link>
                )}
              </td>
              <td className="w-[30%] py-1.5 pr-4">{effectText(line)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {onMore && (
        <p className="p-4 text-center">
          <Button onClick={onMore}>Show more of {total.toLocaleString("en-GB")}</Button>
        </p>
      )}
      {lines.length === 0 && <p className="p-5 text-second">No site is in this state.</p>}
    </>
  );
}

function effectText(line: Line) {
  const named = (rules: Schema["Rule"][]) => listed(rules.map((rule) => rule.short));
  const parts = [
    line.cleared.length > 0 && `ends ${named(line.cleared)}`,
    line.opened.length > 0 && `adds ${named(line.opened)}`,
    line.shutsDoors && "ends outside access",
    line.opensDoors && "opens outside access",
    line.lose > 0 && `${counted(line.lose, "person loses", "people lose")} something`,
    line.gain > 0 && `${counted(line.gain, "person gains", "people gain")} something`,
  ].filter((part) => part !== false);
  return (
    <>
      {parts.join("; ") || (line.outcome === "refused" ? "" : "nobody loses access")}
      {line.needsSecond && <span className="block text-ochre">{line.needsSecond}</span>}
      {line.unaffected.map((sentence) => (
        <span key={sentence} className="block text-ochre">
          Unaffected: <bdi>{sentence}</bdi>
        </span>
      ))}
    </>
  );
}
