import { Link } from "@tanstack/react-router";
import { countOf, doingOf, isOver } from "./words";
import { useBatches } from "./useBatches";

/** Batches that have not ended, shown above the register. */
export function BatchesUnderWay() {
  const open = (useBatches().data ?? []).filter((batch) => !isOver(batch));
  return open.map((batch) => (
    <Link
      key={batch.id}
      to="/batches/$batch"
      params={{ batch: batch.id }}
      className="text-[13px] font-semibold text-slate underline"
    >
      {doingOf(batch)} {batch.state === "stopped" ? "is stopped" : "is under way"}:{" "}
      {countOf(batch, "done").toLocaleString("en-GB")} done
    </Link>
  ));
}
