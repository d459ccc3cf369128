import type { ReactNode } from "react";

/** A short list under a small title. */
export function Part({ title, isBad, children }: { title: string; isBad?: boolean; children: ReactNode }) {
  return (
    <>
      <h3 className={`mt-2 font-text text-[13px] font-semibold ${isBad ? "text-madder" : "text-second"}`}>{title}</h3>
      <ul className="list-disc pl-4 text-[14px] marker:text-rule-strong">{children}</ul>
    </>
  );
}
