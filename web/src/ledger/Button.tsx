import clsx from "clsx";
import type { ComponentProps } from "react";

type Look = "deed" | "plain";

/** A deed in plum cloth, anything else on paper. */
export function Button({ look = "plain", className, ...rest }: ComponentProps<"button"> & { look?: Look }) {
  return (
    <button
      type="button"
      {...rest}
      className={clsx(
        "rounded-[4px] border px-3 py-1.5 text-[13px] font-semibold disabled:opacity-60",
        look === "deed"
          ? "border-cover bg-cover text-cover-ink dark:border-brass"
          : "border-rule-strong bg-sheet text-ink hover:bg-bar",
        className,
      )}
    />
  );
}
