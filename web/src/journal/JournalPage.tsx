import { useInfiniteQuery, useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { capital, onDate } from "../ui/words";
import { without } from "../api/search";
import { SentencePart } from "../ui/SentencePart";
import { Entries } from "./Entries";

export function JournalPage() {
  const search = useSearch({ from: "/books/journal" });
  const navigate = useNavigate();
  const me = useQuery({ queryKey: ["me"], queryFn: () => ok(api.GET("/api/session")), staleTime: 60_000 });
  const journal = useInfiniteQuery({
    queryKey: ["journal", search],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      ok(
        api.GET("/api/journal", {
          params: { query: { ...search, ...(pageParam ? { before: pageParam } : {}), limit: 50 } },
        }),
      ),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  useEffect(() => {
    document.title = "Journal · Attic Ledger";
  }, []);
  const entries = journal.data?.pages.flatMap((page) => page.entries) ?? [];
  const actions = journal.data?.pages[0]?.actions ?? [];
  const seesAll = me.data?.role === "administrator" || me.data?.role === "auditor";
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div className="flex shrink-0 items-start gap-6 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex-1">
          <div className="mb-2.5 flex items-baseline gap-4">
            <h1 className="text-[21px]">Journal</h1>
            <p className="text-[14px] text-second">
              {seesAll
                ? "Every action, request and observed change. Entries cannot be changed."
                : "What was done to the sites in your scope."}{" "}
              {seesAll && (
                <Link to="/reports" className="underline">
                  Reports
                </Link>
              )}
            </p>
          </div>
          <div className="flex flex-wrap items-center gap-1.5 text-[16px]" role="group" aria-label="Filters">
            <span>Entries</span>
            <SentencePart
              label="Action"
              any="of any action"
              choices={actions.map(({ name, label }) => ({ key: name, words: `where ${label}` }))}
              chosen={search.action}
              onChoose={(action) =>
                void navigate({
                  to: "/journal",
                  search: { ...without(search, "action"), ...(action ? { action } : {}) },
                })
              }
            />
            {search.site && <Only part="site" words="of one site: show all sites" />}
            {search.source && <Only part="source" words={`by ${search.source}: show all people`} />}
            {search.since && <Only part="since" words={`since ${onDate(search.since)}: show earlier entries`} />}
            <span>sorted newest first</span>
          </div>
        </div>
        {seesAll && <Evidence />}
      </div>
      <div className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
        <Entries entries={entries} withSite />
        {journal.data && entries.length === 0 && (
          <div className="p-8 text-second">
            <p>No entry matches these filters.</p>
            <Link to="/journal" search={{}} className="underline">
              Show all of them
            </Link>
          </div>
        )}
        {journal.error && <p className="p-5 text-madder">{journal.error.message}</p>}
        {journal.hasNextPage && (
          <Button className="m-5" onClick={() => void journal.fetchNextPage()} disabled={journal.isFetchingNextPage}>
            Earlier entries
          </Button>
        )}
      </div>
    </main>
  );
}

/** A filter that the address carries; a click removes it. */
function Only({ part, words }: { part: "site" | "source" | "since"; words: string }) {
  const search = useSearch({ from: "/books/journal" });
  const navigate = useNavigate();
  return (
    <button
      type="button"
      className="border-b-2 border-moss bg-moss-pale px-1 py-0.5 font-semibold"
      onClick={() => void navigate({ to: "/journal", search: without(search, part) })}
    >
      {words}
    </button>
  );
}

function Evidence() {
  const check = useMutation({ mutationFn: () => ok(api.GET("/api/journal/check")) });
  return (
    <div className="text-right">
      <div className="flex justify-end gap-2">
        <Button onClick={() => check.mutate()} disabled={check.isPending}>
          {check.isPending ? "Checking …" : "Check the chain"}
        </Button>
        <a
          href="/api/journal/export"
          download
          className="rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold hover:bg-bar"
        >
          Export
        </a>
      </div>
      <p role="status" className="mt-1.5 min-h-5 text-[13px]">
        {check.data && <Checked chain={check.data} />}
        {check.error && <span className="text-madder">{check.error.message}</span>}
      </p>
    </div>
  );
}

function Checked({ chain }: { chain: Schema["ChainCheckResult"] }) {
  return chain.isUnbroken ? (
    <span className="text-moss">
      Unbroken: {chain.number.toLocaleString("en-GB")} entries, head{" "}
      <span className="font-address" title={chain.head}>
        {chain.head.slice(0, 12)}…
      </span>
    </span>
  ) : (
    <span className="text-madder">
      Broken at entry {chain.line}: {capital(chain.what ?? "")}
    </span>
  );
}
