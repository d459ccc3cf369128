import clsx from "clsx";
import type { Wire } from "../api/client";

const colour = {
  must: "bg-madder-pale text-madder",
  should: "bg-ochre-pale text-ochre",
  look: "bg-slate-pale text-slate",
};

/** All chips are of one height, so that two lines of them fit a line of the ledger. */
export const chipLook =
  "inline-block rounded-[3px] border px-[5px] text-[12px] leading-[17px] font-semibold whitespace-nowrap";

const weight = { must: "must be fixed", should: "should be fixed", look: "worth a look" };

/** A finding in a few words. What cannot be told is outlined, and ends in a question mark. */
export function FindingChip({ finding }: { finding: Wire["FindingWire"] }) {
  return (
    <span
      title={`${finding.rule}: ${finding.title}; ${finding.cannotTell ? "cannot be told" : weight[finding.level]}`}
      className={clsx(
        chipLook,
        finding.cannotTell
          ? "border-dashed border-rule-strong text-second"
          : `border-transparent ${colour[finding.level]}`,
      )}
    >
      {finding.cannotTell && <span className="sr-only">cannot tell: </span>}
      {finding.cannotTell ? `${finding.short}?` : finding.short}
    </span>
  );
}
