import clsx from "clsx";
import { useId, type ReactNode } from "react";

/** A choice of one of a few that are all shown. The caller has the fieldset with the legend. */
export function RadioGroup<T extends string | number>(props: {
  choices: { value: T; shown: ReactNode; isDisabled?: boolean }[];
  value: T | null;
  onChoose: (value: T) => void;
  isBusy?: boolean;
  /** Ruled lines for choices of several lines. */
  isRuled?: boolean;
  /** Instead of choices, or after them. */
  note?: ReactNode;
}) {
  const name = useId();
  return (
    <ul className={clsx("mt-1", props.isRuled && "divide-y divide-rule border-y border-rule")} aria-busy={props.isBusy}>
      {props.choices.map(({ value, shown, isDisabled }) => (
        <li key={value}>
          <label
            className={clsx(
              "flex gap-2 px-1",
              props.isRuled ? "py-2" : "py-0.5",
              isDisabled ? "text-second" : "cursor-pointer hover:bg-bar",
              props.isRuled && props.value === value && "bg-bookmark",
            )}
          >
            <input
              type="radio"
              name={name}
              className="mt-1 size-4 shrink-0 accent-[var(--cover)]"
              disabled={isDisabled}
              checked={props.value === value}
              onChange={() => props.onChoose(value)}
            />
            {shown}
          </label>
        </li>
      ))}
      {props.note && <li className="py-2">{props.note}</li>}
    </ul>
  );
}
