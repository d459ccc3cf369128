import { useSyncExternalStore } from "react";

/** Sites that are marked for a deed on many. They stay while one looks at another page; a reload forgets them. */
let marked: ReadonlySet<number> = new Set();
const listeners = new Set<() => void>();

function set(next: ReadonlySet<number>) {
  marked = next;
  for (const listener of listeners) listener();
}

export const marks = {
  toggle: (site: number) => {
    const next = new Set(marked);
    if (!next.delete(site)) next.add(site);
    set(next);
  },
  add: (sites: number[]) => set(new Set([...marked, ...sites])),
  clear: () => set(new Set()),
};

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useMarks = () => useSyncExternalStore(subscribe, () => marked);
