import { useId, type ReactNode } from "react";

/** A text field between fixed parts, such as the chosen part of an address. What is said about it stands below. */
export function FixedField(props: {
  field?: string;
  label: string;
  before: string;
  after: string;
  value: string;
  isRefused: boolean;
  hint: string;
  onChange: (text: string) => void;
  children?: ReactNode;
}) {
  const id = useId();
  return (
    <div className="mt-3">
      <label className="block font-semibold" htmlFor={`${id} field`}>
        {props.label}
      </label>
      <div className="mt-1 flex items-center rounded-[4px] border border-rule-strong bg-sheet focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-slate">
        {props.before && <span className="pl-2.5 font-address text-[13.5px] text-second">{props.before}</span>}
        <input
          id={`${id} field`}
          data-field={props.field}
          value={props.value}
          spellCheck={false}
          autoCapitalize="none"
          autoComplete="off"
          maxLength={100}
          aria-invalid={props.isRefused}
          aria-describedby={`${id} said ${id} hint`}
          onChange={(event) => props.onChange(event.target.value)}
          className="min-w-0 flex-1 bg-transparent px-2.5 py-2 font-address text-[13.5px] outline-none"
        />
        {props.after && <span className="pr-2.5 font-address text-[13.5px] text-second">{props.after}</span>}
      </div>
      <div id={`${id} said`} aria-live="polite">
        {props.children}
      </div>
      <p id={`${id} hint`} className="mt-0.5 text-[13px] text-second">
        {props.hint}
      </p>
    </div>
  );
}
