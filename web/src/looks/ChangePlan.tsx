import { useId, type ReactNode } from "react";
import type { Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { EffectList } from "../actions/EffectList";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";

/** The end of a form that changes how a site presents itself: its comment, what follows, and the button. */
export function ChangePlan(props: {
  planned: Schema["Plan"] | null;
  refused: Schema["Remark"][];
  error: Error | null;
  isCurrent: boolean;
  isSending: boolean;
  /** What to do first, while nothing is different yet. */
  nothing: ReactNode;
  button: string;
  comment: string;
  onComment: (text: string) => void;
}) {
  const id = useId();
  return (
    <>
      <Field
        label="Comment (optional)"
        value={props.comment}
        maxLength={500}
        onChange={(event) => props.onComment(event.target.value)}
        hint="The journal keeps it, and owners who did not make the change read it."
      />
      <section className="mt-5 border-t border-rule pt-3" aria-labelledby={id} aria-live="polite">
        <h2 id={id} className="font-text text-[15px] font-bold">
          What becomes different
        </h2>
        {props.planned ? (
          <EffectList plan={props.planned} />
        ) : props.refused.length > 0 ? (
          <ul className="mt-1 space-y-1 text-madder">
            {props.refused.map(({ sentence }) => (
              <li key={sentence}>
                <bdi>{sentence}</bdi>
              </li>
            ))}
          </ul>
        ) : (
          <p className="mt-1 text-[13px] text-second">{props.nothing}</p>
        )}
      </section>
      <ActionFault error={props.error} />
      <Button
        type="submit"
        look="primary"
        className="mt-4 py-2"
        disabled={!props.planned || !props.isCurrent || props.isSending}
      >
        {props.isSending ? "Queuing the change …" : props.button}
      </Button>
    </>
  );
}
