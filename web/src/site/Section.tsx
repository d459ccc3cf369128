import type { ReactNode } from "react";

/** A section of the site page, one fact a row. */
export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} id={title.toLowerCase().replaceAll(" ", "-")}>
      <h2 className="text-[16px]">{title}</h2>
      <ul className="mt-1 border-t border-rule">{children}</ul>
    </section>
  );
}
