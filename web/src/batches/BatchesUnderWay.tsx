import { Link } from "@tanstack/react-router";
import { bulkDeeds, countOf, isOver } from "./words";
import { useBatches } from "./useBatches";

/** Deeds on many sites that are not over, said where the sites stand. */
export function BatchesUnderWay() {
  const open = (useBatches().data ?? []).filter((batch) => !isOver(batch));
  return open.map((batch) => (
    <Link
      key={batch.id}
      to="/batches/$batch"
      params={{ batch: batch.id }}
      className="text-[13px] font-semibold text-slate underline"
    >
      {bulkDeeds[batch.deed]?.doing(batch.sites)} {batch.state === "stopped" ? "is stopped" : "is under way"}:{" "}
      {countOf(batch, "done").toLocaleString("en-GB")} done
    </Link>
  ));
}
