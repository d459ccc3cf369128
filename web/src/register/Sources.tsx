import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { Popover } from "radix-ui";
import { api, ok, type Schema } from "../api/client";
import { ago, counted } from "../ui/words";
import { SyncNow } from "../sources/SyncNow";
import { useSources } from "../sources/useSources";

/** How complete the register is: which sources were synced, when, and what they do not report. */
export function Sources({ whole }: { whole: number | undefined }) {
  const me = useQuery({ queryKey: ["me"], queryFn: () => ok(api.GET("/api/session")), staleTime: 60_000 });
  const sources = useSources();
  if (!sources.data) return null;
  const reading = sources.data.find((source) => source.isSyncing);
  const failed = sources.data.filter((source) => source.error !== null || source.complete === false);
  const last = sources.data
    .map((source) => source.ended)
    .filter((ended) => ended !== null)
    .sort()[0];
  const words = reading
    ? `syncing ${reading.name}${reading.expected ? `, ${reading.read} of ${reading.expected}` : ""} …`
    : failed.length > 0
      ? `${failed.map((source) => source.name).join(", ")} could not be synced completely`
      : last
        ? `${sources.data.length} sources, synced ${ago(last)}`
        : "no source has been synced yet";
  return (
    <Popover.Root>
      <Popover.Trigger className="text-[14px] text-second underline decoration-rule-strong underline-offset-4">
        {whole === undefined ? "" : `${counted(whole, "site")} · `}
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          aria-label="Sources"
          className="z-20 w-[420px] rounded-[5px] border border-rule-strong bg-sheet p-4 text-ink"
        >
          <ul className="divide-y divide-rule">
            {sources.data.map((source) => (
              <Source key={source.name} source={source} maySync={me.data?.role === "administrator"} />
            ))}
          </ul>
          {me.data && me.data.role !== "owner" && (
            <Link to="/sources" className="mt-1 block underline">
              What they report
            </Link>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Source({ source, maySync }: { source: Schema["Source"]; maySync: boolean }) {
  return (
    <li className="py-2.5">
      <div className="flex items-center justify-between gap-3">
        <span className="font-semibold">{source.name}</span>
        {maySync && <SyncNow source={source} />}
      </div>
      <p className="text-[13px] text-second">
        {source.ended
          ? `Synced ${ago(source.ended)}, ${source.complete ? "completely" : "not completely"}.`
          : "Not synced yet."}{" "}
        {source.expected !== null && `${source.read} of ${source.expected} sites.`}
      </p>
      {source.error && <p className="text-[13px] text-madder">{source.error}</p>}
      {source.refused.length > 0 && (
        <p className="text-[13px] text-ochre">Left out: {source.refused.length}. Sources says what.</p>
      )}
    </li>
  );
}
