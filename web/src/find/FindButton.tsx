import { lazy, Suspense, useEffect, useState } from "react";
import type { Schema } from "../api/client";

const Finder = lazy(async () => ({ default: (await import("./Finder")).Finder }));

/** Opens the finder, as Ctrl K does. The finder is loaded when it is first opened. */
export function FindButton({ me }: { me: Schema["Me"] }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === "k" && (event.ctrlKey || event.metaKey) && !event.altKey) {
        event.preventDefault();
        setOpen((before) => !before);
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <>
      <button
        type="button"
        aria-keyshortcuts="Control+K"
        onClick={() => setOpen(true)}
        className="mr-4 rounded-[4px] border border-brass px-3 py-1 text-[13px] font-semibold whitespace-nowrap"
      >
        Find <span className="hidden font-normal sm:inline">Ctrl K</span>
      </button>
      {open && (
        <Suspense>
          <Finder me={me} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
