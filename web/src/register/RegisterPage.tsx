import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, ok } from "../api/client";
import { useMe } from "../api/useMe";
import { BatchesUnderWay } from "../batches/BatchesUnderWay";
import { SelectionBar } from "./SelectionBar";
import { selection, useSelection } from "../batches/selection";
import { rangeOf, useLines, usePlace, useRegister } from "./useRegister";
import { Columns } from "./Columns";
import { without, type RegisterSearch } from "../api/search";
import { Files } from "../ui/Files";
import { Coverage } from "./Coverage";
import { Sentence, type SentenceChange } from "./Sentence";
import { LedgerTable } from "./LedgerTable";
import { DetailsPanel } from "../details/DetailsPanel";
import { Sources } from "./Sources";
import { Views } from "./Views";
import { counted, listed } from "../ui/words";

export function RegisterPage() {
  const me = useMe();
  const search = useSearch({ from: "/books/" });
  const navigate = useNavigate();
  const register = useRegister(search);
  const [place, setPlace] = useState(0);
  const total = register.data?.total ?? 0;
  const first = register.data?.lines;

  // A link names the site in focus: it is in the first window, or the server returns its place, or it is no longer in the list.
  const inFirst = first?.findIndex((line) => line.id === search.site) ?? -1;
  const asked = usePlace(search, search.site !== undefined && first !== undefined && inFirst < 0);
  const linked = inFirst >= 0 ? inFirst : (asked.data?.place ?? null);
  const here = search.site !== undefined && linked !== null ? linked : Math.min(place, Math.max(0, total - 1));
  const isGone = search.site !== undefined && inFirst < 0 && asked.data?.place === null;
  const under = useLines(search, here, here)(here)?.id;
  const site = search.site ?? under;

  useEffect(() => {
    document.title = "Register · Attic Ledger";
  }, []);

  const change = useCallback(
    (next: SentenceChange, replace: boolean) =>
      void navigate({
        to: "/",
        search: (before) => {
          const merged = { ...before, ...next };
          return Object.fromEntries(Object.entries(merged).filter(([, value]) => value !== undefined));
        },
        replace,
      }),
    [navigate],
  );

  // When the focus moves faster than rows load, the address bar gets the site as soon as its row is there.
  useEffect(() => {
    if (search.site === undefined && place > 0 && under !== undefined) change({ site: under }, true);
  }, [search.site, place, under, change]);

  const onPlace = useCallback(
    (at: number, id: number | undefined) => {
      setPlace(at);
      change({ site: id }, true);
    },
    [change],
  );

  const selected = useSelection();
  const anchor = useRef(0);
  const [selectionNote, setSelectionNote] = useState<string | null>(null);
  const onSelect = useCallback(
    (at: number, id: number) => {
      anchor.current = at;
      selection.toggle(id);
      setSelectionNote(null);
      setPlace(at);
      change({ site: id }, true);
    },
    [change],
  );
  const selectRange = useMutation({
    mutationFn: ([from, to]: [number, number]) => rangeOf(search, from, to),
    onSuccess: ({ sites }, [from, to]) => {
      selection.add(sites);
      setSelectionNote(
        sites.length < Math.min(to, total - 1) - from + 1
          ? `More than ${sites.length.toLocaleString("en-GB")} sites cannot be selected at once: process these first`
          : null,
      );
    },
  });
  const selectRows = selectRange.mutate;
  const onSelectTo = useCallback(
    (to: number | "all") =>
      selectRows(
        to === "all" ? [0, Number.MAX_SAFE_INTEGER] : [Math.min(anchor.current, to), Math.max(anchor.current, to)],
      ),
    [selectRows],
  );

  const restart = (next: SentenceChange) => {
    setPlace(0);
    change({ ...next, site: undefined }, false);
  };

  return (
    <>
      <div className="flex shrink-0 items-start gap-6 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="min-w-0 flex-1">
          <div className="mb-2.5 flex flex-wrap items-baseline gap-x-4">
            <h1 className="text-[21px]">Register</h1>
            <Sources whole={register.data?.whole} />
            <Views search={search} />
            <Link to="/tree" className="text-[13px] underline">
              As a tree
            </Link>
            <Link to="/twins" className="text-[13px] underline">
              Near names
            </Link>
            {me?.mayAct && (
              <Link to="/start" className="text-[13px] underline">
                Start a site
              </Link>
            )}
            {register.data?.filter && me && me.role !== "owner" && (
              <Link to="/rules" search={{ scope: register.data.filter }} className="text-[13px] underline">
                Rule for these sites
              </Link>
            )}
            <BatchesUnderWay />
          </div>
          <Sentence search={search} counts={register.data} error={register.error} onChange={restart} />
        </div>
        <div className="max-w-[300px] shrink-0 self-end text-right text-[13px] text-second">
          <p role="status">
            {register.data && `${total.toLocaleString("en-GB")} of ${counted(register.data.whole, "site")}`}
          </p>
          {register.data && <Coverage search={search} register={register.data} onChange={restart} />}
          <Columns search={search} onChange={(next) => change(next, true)} />
          {register.data && total > 0 && <Files hrefOf={(form) => fileOf(search, form)} />}
        </div>
      </div>
      <main className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          {register.data && total === 0 ? (
            <Empty
              whole={register.data.whole}
              search={search}
              onChange={restart}
              onClear={() => void navigate({ to: "/", search: {} })}
            />
          ) : (
            <LedgerTable
              search={search}
              total={total}
              columns={register.data?.columns ?? []}
              place={isGone ? -1 : here}
              selected={selected}
              onPlace={onPlace}
              onSelect={onSelect}
              onSelectTo={onSelectTo}
              onSort={(sort) => restart({ sort: sort === "worst" ? undefined : sort })}
              onOpen={(id) => void navigate({ to: "/sites/$site", params: { site: id.toString() } })}
            />
          )}
        </div>
        <aside
          aria-label="Details"
          className="w-[344px] shrink-0 overflow-auto border-l-4 border-double border-margin-rule"
        >
          {isGone && (
            <p className="border-b border-rule bg-ochre-pale px-5 py-2 text-[13px]">
              This site no longer matches the filters. <LeavesOut search={search} site={site} />
            </p>
          )}
          {site !== undefined && (total > 0 || isGone) ? <DetailsPanel key={site} site={site} /> : null}
        </aside>
      </main>
      {me?.mayAct && <SelectionBar note={selectRange.error?.message ?? selectionNote} rule={search.rule} />}
      <footer className="flex h-8 shrink-0 items-center gap-5 border-t border-rule-strong px-5 text-[12.5px] text-second">
        <Key name="↑ ↓" does="move" />
        <Key name="Page, Home, End" does="jump" />
        <Key name="Enter" does="open site page" />
        <Key name="R" does="go to the remedy" />
        {me?.mayAct && (
          <>
            <Key name="Space" does="select" />
            <Key name="Shift" does="select a range" />
            <Key name="Ctrl A" does="select all" />
          </>
        )}
      </footer>
    </>
  );
}

function Key({ name, does }: { name: string; does: string }) {
  return (
    <span>
      <b className="text-ink">{name}</b> {does}
    </span>
  );
}

interface LeftOutProps {
  search: RegisterSearch;
  site?: number | undefined;
}

function useLeftOut({ search, site }: LeftOutProps) {
  const filter = without(without(search, "site"), "show");
  return useQuery({
    queryKey: ["left out", filter, site],
    queryFn: () =>
      ok(api.GET("/api/register/left-out", { params: { query: { ...filter, ...(site !== undefined && { site }) } } })),
  }).data;
}

/** The parts of the filter that leave a site out. */
function LeavesOut(props: LeftOutProps) {
  const out = useLeftOut(props)?.filter((part) => part.leavesOut);
  return out && out.length > 0 ? <>Left out by: {listed(out.map((part) => part.words))}.</> : null;
}

/** Each part of the filter without which there would be sites, with a button that removes it. */
function EmptyParts({ search, onChange }: { search: RegisterSearch; onChange: (next: SentenceChange) => void }) {
  const parts = useLeftOut({ search })?.filter((part) => part.without > 0);
  if (!parts) return null;
  if (parts.length === 0)
    return <p className="mt-2 text-second">At least 2 of the filters each leave all sites out.</p>;
  return (
    <ul className="mt-2">
      {parts.map((part) => (
        <li key={`${part.part} ${part.place ?? ""}`} className="py-0.5">
          Without “<bdi>{part.words}</bdi>”: {counted(part.without, "site")}.{" "}
          {part.part !== "in-use" && (
            <button
              type="button"
              className="min-h-6 underline"
              onClick={() =>
                onChange(
                  part.part === "where"
                    ? { where: (search.where ?? []).filter((_, place) => place !== part.place) }
                    : { [part.part]: undefined },
                )
              }
            >
              Remove it<span className="sr-only">: {part.words}</span>
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

function Empty(props: {
  whole: number;
  search: RegisterSearch;
  onChange: (next: SentenceChange) => void;
  onClear: () => void;
}) {
  const { whole, search, onChange, onClear } = props;
  return (
    <div className="p-8">
      <h2 className="text-[18px]">{whole === 0 ? "The register is empty" : "No site matches"}</h2>
      <p className="mt-2 max-w-[46ch] text-second">
        {whole === 0
          ? "All sites of the connected hosts appear here. No source has been synced yet, or none of its sites is in your scope. An administrator connects a host under Sources."
          : `None of the ${whole.toLocaleString("en-GB")} sites in your scope matches all filters.`}
      </p>
      {whole > 0 && <EmptyParts search={search} onChange={onChange} />}
      {whole > 0 && (
        <button type="button" className="mt-3 underline" onClick={onClear}>
          Remove all filters
        </button>
      )}
    </div>
  );
}

function fileOf(search: RegisterSearch, form: string): string {
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(search)) {
    if (key !== "site") for (const one of Array.isArray(value) ? value : [value]) query.append(key, String(one));
  }
  query.set("as", form);
  return `/api/register/export?${query}`;
}
