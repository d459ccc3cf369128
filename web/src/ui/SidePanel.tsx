import { useEffect, type ReactNode } from "react";

/** A page of one column, for actions that need attention and for phones. */
export function SidePanel({ title, lead, children }: { title: string; lead?: ReactNode; children: ReactNode }) {
  useEffect(() => {
    document.title = `${title} · Attic Ledger`;
  }, [title]);
  return (
    <main className="min-h-0 flex-1 overflow-auto">
      <div className="mx-auto max-w-[720px] px-4 pt-5 pb-16 sm:px-6">
        <h1 className="text-[23px] leading-tight break-words">
          <bdi>{title}</bdi>
        </h1>
        {lead && <div className="mt-1 text-second">{lead}</div>}
        {children}
      </div>
    </main>
  );
}

/** Shown until the page is loaded, or the error if it cannot be. */
export function Waiting({ error, title }: { error: Error | null; title: string }) {
  return (
    <main className="p-6">
      <h1 className="text-[20px]">{title}</h1>
      <p role="status" className="mt-2 text-second">
        {error ? error.message : "…"}
      </p>
    </main>
  );
}

export function Steps({ steps }: { steps: { step: string; at: string | null }[] }) {
  return (
    <ol className="mt-2 flex flex-wrap gap-1" aria-label="Progress">
      {steps.map(({ step, at }) => (
        <li
          key={step}
          title={at ?? undefined}
          className={
            at
              ? "rounded-[3px] bg-moss-pale px-1.5 py-0.5 text-[12px] font-semibold text-moss"
              : "rounded-[3px] border border-dashed border-rule-strong px-1.5 py-0.5 text-[12px] font-semibold text-second"
          }
        >
          {at ? step : `not yet ${step}`}
        </li>
      ))}
    </ol>
  );
}
