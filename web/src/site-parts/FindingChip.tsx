import clsx from "clsx";
import type { Schema } from "../api/client";

const colour = {
  critical: "bg-madder-pale text-madder",
  warning: "bg-ochre-pale text-ochre",
  note: "bg-slate-pale text-slate",
};

/** All chips have one height, so that two rows of them fit a row of the register. */
export const chipLook =
  "inline-block rounded-[3px] border px-[5px] text-[12px] leading-[17px] font-semibold whitespace-nowrap";

const weight = { critical: "critical", warning: "warning", note: "note" };

/** A finding in a few words. One that cannot tell is outlined and ends in a question mark. */
export function FindingChip({ finding }: { finding: Schema["Finding"] }) {
  return (
    <span
      title={`${finding.rule}: ${finding.title}; ${finding.cannotTell ? "cannot tell" : weight[finding.level]}`}
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
