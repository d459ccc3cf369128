import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useEffect } from "react";
import { api, ok } from "../api/client";
import { SiteName } from "../site-parts/SiteName";
import { counted, digits, inBytes } from "../ui/words";

/** Sites with others above or below them, as a tree; each row adds up everything below it. */
export function TreePage() {
  const tree = useQuery({ queryKey: ["tree"], queryFn: () => ok(api.GET("/api/register/tree")) });
  useEffect(() => {
    document.title = "Sites as a tree · Attic Ledger";
  }, []);
  const rows = tree.data?.rows ?? [];
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <p className="text-[13px]">
          <Link to="/" className="underline">
            Register
          </Link>
        </p>
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Sites as a tree</h1>
          <p role="status" className="text-second">
            {tree.data
              ? `${counted(rows.length + tree.data.more, "site")} with others above or below; ${counted(tree.data.alone, "other site")} in use ${tree.data.alone === 1 ? "is" : "are"} not listed.`
              : (tree.error?.message ?? "…")}
          </p>
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto">
        {tree.data && rows.length === 0 && (
          <p className="p-8 text-second">
            No site in your scope has another site above or below it, or their hosts do not report it.
          </p>
        )}
        {rows.length > 0 && (
          <table className="w-full text-[13.5px]">
            <thead className="sticky top-0 z-10 bg-sheet">
              <tr className="h-[30px] text-left text-[12px] text-second">
                <th scope="col" className="pl-5">
                  Site
                </th>
                <th scope="col">Host</th>
                {["Sites", "Pages", "Storage", "Owners"].map((head) => (
                  <th key={head} scope="col" className="w-[110px] text-right last:pr-5">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row, at) => (
                <tr key={row.id} className={Math.floor(at / 3) % 2 === 1 ? "bg-bar" : "bg-sheet"}>
                  <td className="py-1.5 pr-3" style={{ paddingLeft: 20 + row.depth * 24 }}>
                    <span className="sr-only">Level {row.depth + 1}: </span>
                    <SiteName site={row.id} title={row.title} address={row.address} />
                  </td>
                  <td className="pr-3">{row.host}</td>
                  <td className="text-right">{digits(row.totals.sites)}</td>
                  <td className="text-right">{digits(row.totals.pages)}</td>
                  <td className="text-right">
                    {inBytes(row.totals.kilobytes * 1000)}
                    {row.totals.unmeasured > 0 && (
                      <span className="block text-[12px] text-ochre">{digits(row.totals.unmeasured)} not reported</span>
                    )}
                  </td>
                  <td className="pr-5 text-right">{digits(row.totals.owners)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {(tree.data?.more ?? 0) > 0 && (
          <p className="px-5 py-3 text-second">{counted(tree.data?.more ?? 0, "more site")} not listed.</p>
        )}
      </main>
    </>
  );
}
