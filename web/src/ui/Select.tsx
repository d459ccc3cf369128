import clsx from "clsx";
import type { ReactNode } from "react";

export interface Choice<T extends string> {
  value: T;
  words: string;
}

/** A choice of one of a list. The label stands above it, beside it, or is only read out. */
export function Select<T extends string>(props: {
  label: ReactNode;
  value: T;
  choices: Choice<T>[];
  onChoose: (value: T) => void;
  labelled?: "above" | "beside";
  isWide?: boolean;
  /** With less room around its words, for a table of choices. */
  isTight?: boolean;
  isAddress?: boolean;
  /** As a part of a sentence instead of a box. */
  isInSentence?: boolean;
}) {
  const select = (
    <select
      aria-label={props.labelled || typeof props.label !== "string" ? undefined : props.label}
      value={props.value}
      onChange={(event) => props.onChoose(event.target.value as T)}
      className={clsx(
        props.isInSentence
          ? "border-b border-dashed border-ink bg-sheet font-semibold"
          : "rounded-[4px] border border-rule-strong bg-sheet font-normal",
        !props.isInSentence && (props.isTight ? "p-1" : "px-2 py-1.5"),
        props.labelled === "above" && "mt-1 block",
        props.labelled === "beside" && "ml-2",
        props.isWide && "w-full",
        props.isAddress && "font-address text-[13px]",
      )}
    >
      {props.choices.map(({ value, words }) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </select>
  );
  return props.labelled ? (
    <label className="mt-3 block font-semibold">
      {props.label}
      {select}
    </label>
  ) : (
    select
  );
}
