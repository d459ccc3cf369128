import { ApiError } from "./client";
import type { FeedEvent } from "./feed";

/** What is asked about one site, which comes second in its key. */
const ofSite = new Set([
  "ask owners",
  "attic-entry",
  "exception",
  "hold",
  "moved to the attic",
  "moves",
  "offer plan",
  "restore",
  "restrict",
  "site",
  "site-days",
  "successors",
]);

/** What no entry of the feed changes. */
const still = new Set(["attributes", "link", "bad link", "reports", "start people"]);

/** Topics without sites that a list shows; other lists show sites and people. */
const topics: Record<string, FeedEvent["topics"]> = {
  "account change": ["accounts"],
  accounts: ["accounts", "people"],
  batch: ["batches"],
  "batch-lines": ["batches"],
  batches: ["batches"],
  approval: ["people", "elsewhere"],
  desk: ["batches", "people"],
  "manual-task": ["people", "elsewhere"],
  offer: ["people", "elsewhere"],
  sessions: ["own-account"],
  "site request": ["site-requests"],
  "site requests": ["site-requests"],
  "start check": ["site-requests", "people"],
  sources: ["sources"],
  "used sites": ["people", "elsewhere"],
  yours: ["people", "elsewhere"],
};

interface Asked {
  queryKey: readonly unknown[];
  state: { error: unknown };
}

/** True if an answer may be another than before: only what an event touches is asked again, and nothing that was refused. */
export function isTouched({ queryKey, state }: Asked, { sites, topics: changed }: FeedEvent): boolean {
  if (isRefused(state.error)) return false;
  const [what, about] = queryKey;
  if (typeof what !== "string" || still.has(what)) return false;
  if (what === "journal") return sites.length > 0 || changed.length > 0;
  if (changed.includes("everything")) return true;
  if (ofSite.has(what)) return changed.includes("people") || sites.includes(Number(about));
  if (what === "me") return changed.includes("own-account") || changed.includes("people");
  const its = topics[what] ?? ["people", "sources"];
  const showsSites = !["account change", "accounts", "sessions"].includes(what);
  return (showsSites && sites.length > 0) || changed.some((topic) => its.includes(topic));
}

/** Asked again, it would be refused again, and each refusal is journalled. */
export const isRefused = (error: unknown) =>
  error instanceof ApiError && (error.status === 401 || error.status === 403);

/** Two events as one. */
export const together = (one: FeedEvent, other: FeedEvent): FeedEvent => ({
  place: Math.max(one.place, other.place),
  sites: [...new Set([...one.sites, ...other.sites])],
  topics: [...new Set([...one.topics, ...other.topics])],
});
