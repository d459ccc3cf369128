import { useId, type ComponentProps } from "react";
import type { Schema } from "../api/client";
import { Remarks } from "./Remarks";
import type { FieldName } from "./useStart";

const box = "mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-2 font-normal";

/** A text field with the verdict of the rules and whether it can be changed later. */
export function LabelledField({
  field,
  label,
  remarks,
  hint,
  isLong,
  onChange,
  ...rest
}: Omit<ComponentProps<"input">, "onChange"> & {
  field: FieldName;
  label: string;
  remarks: Schema["RemarkOnField"][];
  hint: string;
  isLong?: boolean;
  onChange: (text: string) => void;
}) {
  const id = useId();
  const shared = {
    "data-field": field,
    "aria-invalid": remarks.some(({ weight }) => weight === "refusal"),
    "aria-describedby": `${id} said ${id} hint`,
    className: box,
  };
  return (
    <div className="mt-3">
      <label className="block font-semibold">
        {label}
        {isLong ? (
          <textarea
            {...shared}
            rows={3}
            value={rest.value}
            maxLength={rest.maxLength}
            onChange={(event) => onChange(event.target.value)}
          />
        ) : (
          <input {...rest} {...shared} onChange={(event) => onChange(event.target.value)} />
        )}
      </label>
      <div aria-live="polite">
        <Remarks id={`${id} said`} remarks={remarks} />
      </div>
      <p id={`${id} hint`} className="mt-0.5 text-[13px] text-second">
        {hint}
      </p>
    </div>
  );
}
