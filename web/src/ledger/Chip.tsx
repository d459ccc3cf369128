import clsx from "clsx";
import type { Wire } from "../api/client";

const colour = {
  must: "bg-madder-pale text-madder",
  should: "bg-ochre-pale text-ochre",
  look: "bg-slate-pale text-slate",
};

const weight = { must: "must be fixed", should: "should be fixed", look: "worth a look" };

/** A finding in a few words. What cannot be told is outlined and says so. */
export function FindingChip({ finding }: { finding: Wire["FindingWire"] }) {
  return (
    <span
      title={`${finding.rule}: ${finding.title}; ${finding.cannotTell ? "cannot be told" : weight[finding.level]}`}
      className={clsx(
        "inline-block rounded-[3px] px-1.5 py-0.5 text-[12px] font-semibold whitespace-nowrap",
        finding.cannotTell ? "border border-dashed border-rule-strong text-second" : colour[finding.level],
      )}
    >
      {finding.cannotTell ? `cannot tell: ${finding.short}` : finding.short}
    </span>
  );
}
