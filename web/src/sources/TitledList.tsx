import type { ReactNode } from "react";

/** A short list under a small title. */
export function TitledList({ title, isBad, children }: { title: ReactNode; isBad?: boolean; children: ReactNode }) {
  return (
    <>
      <h3 className={`mt-2 font-text text-[13px] font-semibold ${isBad ? "text-madder" : "text-second"}`}>{title}</h3>
      <ul className="list-disc pl-4 text-[14px] marker:text-rule-strong">{children}</ul>
    </>
  );
}

const MOST = 20;

/** The first entries of a list, and the number of others. */
export function FirstItems(props: { title: string; items: string[]; all?: number; isBad?: boolean }) {
  const all = props.all ?? props.items.length;
  if (all === 0) return null;
  const shown = props.items.slice(0, MOST);
  return (
    <TitledList title={`${props.title} (${all.toLocaleString("en-GB")})`} {...(props.isBad ? { isBad: true } : {})}>
      {shown.map((item) => (
        <li key={item}>
          <bdi>{item}</bdi>
        </li>
      ))}
      {all > shown.length && <li>{(all - shown.length).toLocaleString("en-GB")} more</li>}
    </TitledList>
  );
}
