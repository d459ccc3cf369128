import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { api, ok, type Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { ago, counted } from "../ledger/words";

/** How complete the picture is: which sources were read, when, and what they would not tell. */
export function Sources({ whole }: { whole: number | undefined }) {
  const me = useQuery({ queryKey: ["me"], queryFn: () => ok(api.GET("/api/session")), staleTime: 60_000 });
  const sources = useQuery({
    queryKey: ["sources"],
    queryFn: () => ok(api.GET("/api/sources")),
    refetchInterval: (query) => (query.state.data?.some((source) => source.isReading) ? 1000 : 30_000),
  });
  if (!sources.data) return null;
  const reading = sources.data.find((source) => source.isReading);
  const failed = sources.data.filter((source) => source.error !== null || source.complete === false);
  const last = sources.data
    .map((source) => source.ended)
    .filter((ended) => ended !== null)
    .sort()[0];
  const words = reading
    ? `reading ${reading.name}${reading.expected ? `, ${reading.read} of ${reading.expected}` : ""} …`
    : failed.length > 0
      ? `${failed.map((source) => source.name).join(", ")} could not be read to the end`
      : last
        ? `${sources.data.length} sources, read ${ago(last)}`
        : "no source has been read yet";
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
              <Source key={source.name} source={source} mayRead={me.data?.role === "administrator"} />
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Source({ source, mayRead }: { source: Wire["SourceWire"]; mayRead: boolean }) {
  const queries = useQueryClient();
  const read = useMutation({
    mutationFn: () => ok(api.POST("/api/sources/{name}/read", { params: { path: { name: source.name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["sources"] }),
  });
  return (
    <li className="py-2.5">
      <div className="flex items-center justify-between gap-3">
        <span className="font-semibold">{source.name}</span>
        {mayRead && (
          <Button onClick={() => read.mutate()} disabled={read.isPending || source.isReading}>
            {source.isReading ? "Reading …" : "Read now"}
          </Button>
        )}
      </div>
      <p className="text-[13px] text-second">
        {source.ended
          ? `Read ${ago(source.ended)}, ${source.complete ? "completely" : "not to the end"}.`
          : "Not read yet."}{" "}
        {source.expected !== null && `${source.read} of ${source.expected} sites.`}
      </p>
      {source.error && <p className="text-[13px] text-madder">{source.error}</p>}
      {source.refused.length > 0 && (
        <p className="text-[13px] text-ochre">
          {counted(source.refused.length, "site")} withheld: {source.refused.slice(0, 5).join("; ")}
          {source.refused.length > 5 ? " …" : ""}
        </p>
      )}
    </li>
  );
}
