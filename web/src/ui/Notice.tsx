import clsx from "clsx";
import type { ReactNode } from "react";

/** Something to read before going on: a warning, or an error. It is read out when it appears if it has a role. */
export function Notice(props: { children: ReactNode; tone?: "warning" | "error"; role?: "alert" | "status" }) {
  return (
    <div
      role={props.role}
      className={clsx(
        "mt-3 border-l-[3px] px-3 py-1.5",
        props.tone === "error" ? "border-madder bg-madder-pale" : "border-ochre bg-ochre-pale",
      )}
    >
      {props.children}
    </div>
  );
}
