import { useSyncExternalStore } from "react";

/** The sites selected for a batch. The selection survives a change of page and is cleared by a reload. */
let selected: ReadonlySet<number> = new Set();
const listeners = new Set<() => void>();

function set(next: ReadonlySet<number>) {
  selected = next;
  for (const listener of listeners) listener();
}

export const selection = {
  toggle: (site: number) => {
    const next = new Set(selected);
    if (!next.delete(site)) next.add(site);
    set(next);
  },
  add: (sites: number[]) => set(new Set([...selected, ...sites])),
  clear: () => set(new Set()),
};

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useSelection = () => useSyncExternalStore(subscribe, () => selected);
