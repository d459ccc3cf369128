import clsx from "clsx";
import type { Wire } from "../api/client";

const colour = {
  must: "bg-madder-pale text-madder",
  should: "bg-ochre-pale text-ochre",
  look: "bg-slate-pale text-slate",
};

const weight = { must: "must be fixed", should: "should be fixed", look: "worth a look" };

/** A finding in a few words. What cannot be told is outlined, and ends in a question mark. */
export function FindingChip({ finding }: { finding: Wire["FindingWire"] }) {
  return (
    <span
      title={`${finding.rule}: ${finding.title}; ${finding.cannotTell ? "cannot be told" : weight[finding.level]}`}
      className={clsx(
        "inline-block rounded-[3px] px-1.5 text-[12px] leading-[19px] font-semibold whitespace-nowrap",
        finding.cannotTell ? "border border-dashed border-rule-strong text-second" : colour[finding.level],
      )}
    >
      {finding.cannotTell && <span className="sr-only">cannot tell: </span>}
      {finding.cannotTell ? `${finding.short}?` : finding.short}
    </span>
  );
}
