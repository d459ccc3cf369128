import { Notice } from "../ui/Notice";
import type { Schema } from "../api/client";
import { faultOf } from "./useAction";

/** Why an action was not done, next to its button. The form keeps what was typed. */
export function ActionFault({ error }: { error: Error | null }) {
  if (!error) return null;
  const { isOther, reasons } = faultOf(error);
  if (isOther) {
    return (
      <Notice role="alert">
        Something has changed since you looked. Nothing was done. This is the new plan; the form keeps what you typed.
      </Notice>
    );
  }
  return (
    <div role="alert" className="mt-2 text-[13px] text-madder">
      {reasons.map((reason) => (
        <p key={reason}>
          <bdi>{reason}</bdi>
        </p>
      ))}
    </div>
  );
}

/** Every reason why an action cannot be done now, in the order to solve them. */
export function Refused({ reasons, title }: { reasons: Schema["Remark"][]; title: string }) {
  if (reasons.length === 0) return null;
  return (
    <section className="mt-4 border-l-[3px] border-madder pl-3">
      <h2 className="font-text text-[14.5px] font-bold">{title}</h2>
      <ol className={reasons.length > 1 ? "mt-1 list-decimal space-y-1 pl-5" : "mt-1"}>
        {reasons.map(({ sentence }) => (
          <li key={sentence}>
            <bdi>{sentence}</bdi>
          </li>
        ))}
      </ol>
    </section>
  );
}
