import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { useState } from "react";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import type { ListKind, ReadingQuery, Verdict } from "./importCalls";

type Row = Schema["ImportRow"];

const AT_ONCE = 100;

const looks: Record<Verdict, string> = {
  refused: "text-madder",
  changed: "text-slate",
  new: "text-moss",
  same: "text-second",
};

/** The list line by line, with the result for each. */
export function ImportRows(props: {
  kind: ListKind;
  plan: { fingerprint: string; refusals: number; changed: number; new: number; same: number };
  file: File;
  query: ReadingQuery & { asOf?: string };
}) {
  const { kind, plan, file, query } = props;
  const counts: Record<Verdict, number> = {
    refused: plan.refusals,
    changed: plan.changed,
    new: plan.new,
    same: plan.same,
  };
  const there = (Object.keys(counts) as Verdict[]).filter((verdict) => counts[verdict] > 0);
  const [verdict, setVerdict] = useState<Verdict | undefined>(there[0]);
  const rows = useInfiniteQuery({
    queryKey: ["list-rows", kind.key, plan.fingerprint, query, verdict],
    queryFn: ({ pageParam }) =>
      kind.rows(file, { ...query, ...(verdict && { verdict }), offset: pageParam, limit: AT_ONCE }),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const read = pages.reduce((sum, page) => sum + page.rows.length, 0);
      return read < last.total ? read : undefined;
    },
    staleTime: Infinity,
  });
  if (there.length === 0) return null;
  return (
    <section className="mt-5" aria-label="Line by line">
      <h2 className="text-[17px]">Line by line</h2>
      <div role="group" aria-label="Which lines" className="mt-1 flex flex-wrap gap-x-4">
        {there.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={verdict === one}
            onClick={() => setVerdict(one)}
            className={clsx(
              "min-h-6 border-b-2",
              verdict === one ? "border-brass font-semibold" : "border-transparent",
            )}
          >
            {counts[one].toLocaleString("en-GB")} {one}
          </button>
        ))}
      </div>
      <table className="mt-2 w-full text-[13.5px]">
        <thead>
          <tr className="text-left text-[12px] text-second">
            <th scope="col" className="w-[52px] pr-2 text-right">
              Line
            </th>
            <th scope="col" className="w-[34%] px-2">
              {kind.of}
            </th>
            <th scope="col">Result</th>
          </tr>
        </thead>
        <tbody>
          {rows.data?.pages
            .flatMap((page) => page.rows)
            .map((row) => (
              <RowLine key={row.line} row={row} kind={kind} />
            ))}
        </tbody>
      </table>
      {rows.error && (
        <p role="alert" className="text-madder">
          {rows.error.message}
        </p>
      )}
      {rows.hasNextPage && (
        <Button className="mt-2" disabled={rows.isFetchingNextPage} onClick={() => void rows.fetchNextPage()}>
          Show more
        </Button>
      )}
    </section>
  );
}

function RowLine({ row, kind }: { row: Row; kind: ListKind }) {
  return (
    <tr className="border-t border-rule align-top">
      <td className="py-1 pr-2 text-right text-[12px] text-second">{row.line}</td>
      <td className="px-2 py-1 break-words">
        {row.id ? (
          <Link {...kind.linkTo(row.id)} className="underline">
            <bdi>{row.title}</bdi>
          </Link>
        ) : (
          <bdi>{row.title || kind.none}</bdi>
        )}
      </td>
      <td className="py-1">
        <span className={clsx("font-semibold", looks[row.verdict])}>{row.verdict}</span>
        {row.changes.map((change, at) => (
          <span key={at} className="block">
            {change.fact}: <bdi>{change.before ?? "nothing"}</bdi> becomes <bdi>{change.after ?? "nothing"}</bdi>
          </span>
        ))}
        {row.why.map((why) => (
          <span key={why} className="block text-madder">
            <bdi>{why}</bdi>
          </span>
        ))}
      </td>
    </tr>
  );
}
