import { useId, type ComponentProps, type ReactNode } from "react";

const box =
  "mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-2 font-normal disabled:opacity-60";

/** A file input with the product's button style. */
export const fileLook =
  "mt-1 block min-h-8 font-normal file:mr-3 file:rounded-[4px] file:border file:border-solid file:border-rule-strong file:bg-sheet file:px-3 file:py-1.5 file:text-[13px] file:font-semibold file:text-ink";

/** A labelled text field with a hint below, which screen readers read after the label. */
export function Field({ label, hint, ...rest }: ComponentProps<"input"> & { label: string; hint?: ReactNode }) {
  const hintId = useId();
  return (
    <div className="mt-3">
      <label className="block font-semibold">
        {label}
        <input {...rest} aria-describedby={hint ? hintId : undefined} className={box} />
      </label>
      <Hint id={hintId}>{hint}</Hint>
    </div>
  );
}

/** A text field of several lines. */
export function LongField({ label, hint, ...rest }: ComponentProps<"textarea"> & { label: string; hint?: ReactNode }) {
  const hintId = useId();
  return (
    <div className="mt-3">
      <label className="block font-semibold">
        {label}
        <textarea rows={3} {...rest} aria-describedby={hint ? hintId : undefined} className={box} />
      </label>
      <Hint id={hintId}>{hint}</Hint>
    </div>
  );
}

function Hint({ id, children }: { id: string; children: ReactNode }) {
  return children ? (
    <p id={id} className="mt-0.5 text-[13px] text-second">
      {children}
    </p>
  ) : null;
}

/** The reason for an action, kept in the journal. */
export function Reason(props: { value: string; onChange: (text: string) => void; isNeeded?: boolean }) {
  return (
    <Field
      label={props.isNeeded ? "Reason" : "Reason (optional)"}
      value={props.value}
      maxLength={500}
      onChange={(event) => props.onChange(event.target.value)}
      hint="The journal keeps it."
    />
  );
}
