import { useEffect, type ReactNode } from "react";

/** The frame of the pages before sign-in. */
export function Front({ title, children }: { title: string; children: ReactNode }) {
  useEffect(() => {
    document.title = `${title} · Attic Ledger`;
  }, [title]);
  return (
    <main className="flex min-h-full items-center justify-center bg-bar p-4">
      <div className="w-full max-w-[400px] border-l-[6px] border-cover bg-sheet p-6 sm:p-8">
        <p className="flex items-center gap-2 font-title font-semibold">
          <img src="/icon.svg" alt="" width="24" height="24" />
          Attic Ledger
        </p>
        <h1 className="mt-3 mb-3 text-[22px] leading-tight">{title}</h1>
        {children}
      </div>
    </main>
  );
}
