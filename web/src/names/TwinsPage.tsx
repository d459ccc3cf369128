import { useInfiniteQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { SiteName } from "../site-parts/SiteName";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { ago, counted, digits, onDay } from "../ui/words";

const rowsAtOnce = 50;
const why = ({ one, other, nearness }: Schema["TwinRow"]) =>
  nearness !== "same"
    ? "The names differ by a letter or two."
    : one.title === other.title
      ? "The same name."
      : "The same name except for case, accents, punctuation, filler words, or a version.";

/** Pairs of sites that may be one site made twice, side by side, with what resolves them. */
export function TwinsPage() {
  const isRight = useSearch({ from: "/books/twins" }).right ?? false;
  const navigate = useNavigate();
  const twins = useInfiniteQuery({
    queryKey: ["twins", isRight],
    queryFn: ({ pageParam }) =>
      ok(api.GET("/api/twins", { params: { query: { from: pageParam, limit: rowsAtOnce, right: isRight } } })),
    initialPageParam: 0,
    getNextPageParam: (last, all) =>
      all.length * rowsAtOnce < (isRight ? last.right : last.open) ? all.length * rowsAtOnce : undefined,
  });
  useEffect(() => {
    document.title = "Near names · Attic Ledger";
  }, []);
  const first = twins.data?.pages[0];
  const rows = twins.data?.pages.flatMap((page) => page.rows) ?? [];
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <p className="text-[13px]">
          <Link to="/" className="underline">
            Register
          </Link>
        </p>
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Near names</h1>
          <p role="status" className="text-second">
            {first
              ? `${counted(first.open, "pair")} of sites that may be one site made twice; ${counted(first.right, "other pair")} ${first.right === 1 ? "is" : "are"} both right.`
              : (twins.error?.message ?? "…")}
          </p>
        </div>
        <p className="mt-1 text-[13px] text-second">
          Sites in the attic are compared, too. Names that differ by numbers alone, such as years, are a series and not
          listed.
        </p>
        <div className="mt-2 flex gap-4 text-[13.5px]" role="group" aria-label="Which pairs">
          {[
            { right: false, words: "To decide" },
            { right: true, words: "Both right" },
          ].map((one) => (
            <button
              key={one.words}
              type="button"
              aria-pressed={isRight === one.right}
              className={isRight === one.right ? "border-b-2 border-brass font-semibold" : "underline"}
              onClick={() => void navigate({ to: "/twins", search: one.right ? { right: true } : {} })}
            >
              {one.words}
            </button>
          ))}
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {first && rows.length === 0 && (
          <p className="p-8 text-second">
            {isRight
              ? "Of no pair in your scope has anybody said that both are right."
              : "No two sites in your scope have names that are the same or nearly so."}
          </p>
        )}
        <ul>
          {rows.map((row) => (
            <Pair key={`${row.one.id} ${row.other.id}`} row={row} />
          ))}
        </ul>
        {twins.hasNextPage && (
          <p className="px-5 py-3">
            <Button disabled={twins.isFetchingNextPage} onClick={() => void twins.fetchNextPage()}>
              {twins.isFetchingNextPage ? "Loading …" : "More pairs"}
            </Button>
          </p>
        )}
      </main>
    </>
  );
}

function Pair({ row }: { row: Schema["TwinRow"] }) {
  const mayAct = useMe()?.role !== "auditor";
  return (
    <li className="border-b border-rule px-5 py-3">
      <p className="text-[13px] text-second">{why(row)}</p>
      <div className="mt-1.5 grid gap-x-8 gap-y-3 md:grid-cols-[minmax(0,1fr)_minmax(0,1fr)_230px]">
        <Side twin={row.one} mayAct={mayAct} />
        <Side twin={row.other} mayAct={mayAct} />
        <div className="text-[13.5px]">
          {row.right && (
            <p>
              {row.right.by.name} said {onDay(row.right.at)} that both are right
              {row.right.reason ? `: ${row.right.reason}` : "."}
            </p>
          )}
          {mayAct && (row.right ? <OpenAgain row={row} /> : <BothRight row={row} />)}
        </div>
      </div>
    </li>
  );
}

function Side({ twin, mayAct }: { twin: Schema["Twin"]; mayAct: boolean }) {
  return (
    <div className="min-w-0">
      <SiteName site={twin.id} title={twin.title} address={twin.address} />
      <p className="mt-0.5 text-[13px]">
        {[twin.host, twin.unit?.name ?? "no known unit", twin.existence === "attic" ? "in the attic" : null]
          .filter(Boolean)
          .join(" · ")}
      </p>
      <p className="text-[13px] text-second">
        {[
          twin.edited ? `edited ${ago(twin.edited)}` : "last edit not known",
          twin.visits === null ? "visits not known" : `${counted(twin.visits, "visit")} a week`,
          twin.ownersComplete
            ? counted(twin.owners, "owner")
            : twin.owners === 0
              ? "owners not known"
              : `at least ${counted(twin.owners, "owner")}`,
        ].join(" · ")}
      </p>
      {mayAct && twin.existence === "in-use" && (
        <Link
          to="/sites/$site/look"
          params={{ site: twin.id.toString() }}
          className="mr-4 text-[13px] underline"
          aria-label={`Rename ${twin.title} (${twin.address ?? digits(twin.id)})`}
        >
          Rename …
        </Link>
      )}
      {mayAct && twin.existence === "in-use" && (
        <Link
          to="/sites/$site/move-to-attic"
          params={{ site: twin.id.toString() }}
          className="text-[13px] underline"
          aria-label={`Move ${twin.title} (${twin.address ?? digits(twin.id)}) to the attic`}
        >
          Move to the attic …
        </Link>
      )}
    </div>
  );
}

const named = ({ one, other }: Schema["TwinRow"]) => `${one.title} and ${other.title}`;

function BothRight({ row }: { row: Schema["TwinRow"] }) {
  const [isOpen, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const say = useAction(() =>
    api.POST("/api/twins/both-right", {
      body: { one: row.one.id, other: row.other.id, reason: reason.trim() || null },
    }),
  );
  if (!isOpen)
    return (
      <Button onClick={() => setOpen(true)}>
        Both are right … <span className="sr-only">({named(row)})</span>
      </Button>
    );
  return (
    <form
      aria-label={`Both are right: ${named(row)}`}
      onSubmit={(event) => {
        event.preventDefault();
        say.mutate();
      }}
    >
      <p>They are two sites, and both names stay. It is asked again when one gets another name.</p>
      <Reason value={reason} onChange={setReason} />
      <ActionFault error={say.error} />
      <div className="mt-2 flex gap-1.5">
        <Button type="submit" look="primary" disabled={say.isPending}>
          Both are right
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </form>
  );
}

function OpenAgain({ row }: { row: Schema["TwinRow"] }) {
  const [one, other] = row.one.id < row.other.id ? [row.one.id, row.other.id] : [row.other.id, row.one.id];
  const open = useAction(() => api.POST("/api/twins/open-again", { body: { one, other } }));
  return (
    <>
      <button
        type="button"
        className="min-h-6 text-[13px] underline"
        disabled={open.isPending}
        onClick={() => open.mutate()}
      >
        Undo <span className="sr-only">({named(row)})</span>
      </button>
      <ActionFault error={open.error} />
    </>
  );
}
