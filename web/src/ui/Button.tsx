import clsx from "clsx";
import type { ComponentProps } from "react";

type Look = "primary" | "plain";

/** A button: filled for the main action, plain for others. */
export function Button({ look = "plain", className, ...rest }: ComponentProps<"button"> & { look?: Look }) {
  return (
    <button
      type="button"
      {...rest}
      className={clsx(
        "rounded-[4px] border px-3 py-1.5 text-[13px] font-semibold disabled:opacity-60",
        look === "primary"
          ? "border-cover bg-cover text-cover-ink dark:border-brass"
          : "border-rule-strong bg-sheet text-ink hover:bg-bar",
        className,
      )}
    />
  );
}
