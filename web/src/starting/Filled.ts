import type { Check, NewSite } from "./useStart";

/** What each part of the form shares: what is filled in, the verdict on it, and whether somebody has tried to send it. */
export interface Filled {
  site: NewSite;
  check: Check | undefined;
  isAsked: boolean;
  onChange: (some: Partial<NewSite>) => void;
}
