import { labels } from "../api/labels";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { Fragment, useState } from "react";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import { SiteName } from "../site-parts/SiteName";
import { effectText } from "./effectText";
import { LeaveOut, LineChoices } from "./LineChoices";
import { LineName } from "./LineName";
import { lineActionOf, outcomeLook } from "./words";

type Line = Schema["BatchLine"];

/** A row for each site, in the order in which they are processed. */
export function BatchLines(props: {
  batch: Schema["Batch"];
  lines: Line[];
  total: number;
  onMore: (() => void) | undefined;
}) {
  const { batch, lines, total, onMore } = props;
  const isPlan = batch.state === "planned";
  const hasOwn = ["findings.remedy", "exception.grant", "exception.end", "site.look"].includes(batch.action);
  const [open, setOpen] = useState<number>();
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
            <th scope="col">{hasOwn ? "What is done" : isPlan ? "Possible" : "State"}</th>
            <th scope="col">Effect</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line, at) => (
            <Fragment key={line.site}>
              <tr className={clsx("align-top", Math.floor(at / 3) % 2 === 1 ? "bg-bar" : "bg-sheet")}>
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
                  {hasOwn && line.action !== "findings.remedy" && (
                    <span className="block text-ink">
                      <bdi>{lineActionOf(line)}</bdi>
                    </span>
                  )}
                  {isPlan && line.outcome === "waiting"
                    ? hasOwn
                      ? ""
                      : "can be done"
                    : labels.BatchOutcome[line.outcome]}
                  {[
                    ...line.refused.map(({ sentence }) => sentence),
                    ...(line.hostMessage ? [line.hostMessage] : []),
                  ].map((why) => (
                    <span key={why} className="block font-normal text-ink">
                      <bdi>{why}</bdi>
                    </span>
                  ))}
                  {isPlan && batch.maySteer && (
                    <span className="mt-0.5 flex gap-3 font-normal text-ink">
                      {(batch.mayAdjust || batch.mayRename) && (
                        <button
                          type="button"
                          className="min-h-6 underline"
                          aria-expanded={open === line.site}
                          onClick={() => setOpen(open === line.site ? undefined : line.site)}
                        >
                          Change …<span className="sr-only"> what is done on {line.title}</span>
                        </button>
                      )}
                      <LeaveOut batch={batch} line={line} />
                    </span>
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
              {open === line.site && (
                <tr className="bg-bookmark">
                  <td className="border-r-4 border-double border-margin-rule" />
                  <td colSpan={3} className="px-2 pt-1 pb-3">
                    {batch.mayRename ? (
                      <LineName batch={batch} line={line} onDone={() => setOpen(undefined)} />
                    ) : (
                      <LineChoices batch={batch} line={line} onDone={() => setOpen(undefined)} />
                    )}
                  </td>
                </tr>
              )}
            </Fragment>
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
