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

/** The findings of a row: those that want a decision one by one, and notes by their number. */
export function FindingChips({ findings }: { findings: Schema["Finding"][] }) {
  const decided = findings.filter(({ level }) => level !== "note");
  const notes = findings.filter(({ level, cannotTell }) => level === "note" && !cannotTell);
  const untold = findings.filter(({ level, cannotTell }) => level === "note" && cannotTell);
  return (
    <>
      {[...decided, ...(notes.length === 1 ? notes : [])].map((finding) => (
        <FindingChip key={finding.rule} finding={finding} />
      ))}
      {notes.length > 1 && (
        <span title={named(notes)} className={clsx(chipLook, "border-transparent", colour.note)}>
          {notes.length} notes
        </span>
      )}
      {untold.length > 0 && (
        <span title={named(untold)} className={clsx(chipLook, "border-dashed border-rule-strong text-second")}>
          {untold.length}
          <span className="sr-only"> notes cannot tell</span>
          <span aria-hidden="true">?</span>
        </span>
      )}
    </>
  );
}

const named = (findings: Schema["Finding"][]) => findings.map(({ rule, title }) => `${rule}: ${title}`).join("; ");
