import clsx from "clsx";
import type { Schema } from "../api/client";

const look: Record<Schema["RemarkWeight"], string> = {
  refusal: "text-madder",
  decision: "text-ochre",
  change: "text-ochre",
  advice: "text-second",
};

/** What the rules say at a field. */
export function Remarks(props: { id?: string; remarks: Schema["RemarkOnField"][]; fault?: string }) {
  if (props.remarks.length === 0 && !props.fault) return <span id={props.id} hidden />;
  return (
    <ul id={props.id} className="mt-1 space-y-0.5 text-[13px]">
      {props.fault && <li className="text-madder">{props.fault}</li>}
      {props.remarks.map(({ weight, remark }) => (
        <li key={remark.sentence} className={clsx(look[weight])}>
          <bdi>{remark.sentence}</bdi>
        </li>
      ))}
    </ul>
  );
}
