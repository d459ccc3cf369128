import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect } from "react";
import { api, ok, type Schema } from "../api/client";
import { writeClause } from "../register/clause";
import { counted } from "../ui/words";
import { Word } from "../words/Word";

type Matrix = Schema["AccessMatrix"];
type Inside = Schema["InsideLevel"];
type Outside = Schema["OutsideLevel"];

const powers = [
  { power: "view", words: "Published site" },
  { power: "preview", words: "Draft" },
  { power: "edit", words: "Editing" },
] as const;
const insides: { level: Inside; words: string }[] = [
  { level: "staff", words: "All staff" },
  { level: "unit", words: "The whole unit" },
  { level: "named", words: "Named people" },
  { level: "nobody", words: "Nobody" },
];
const outsides: { level: Outside; words: string }[] = [
  { level: "no-one", words: "No one" },
  { level: "named-guests", words: "Named guests" },
  { level: "partners", words: "Partners" },
  { level: "anonymous", words: "Anonymous visitors" },
];

/** All sites in use by how far access goes inside and outside; each number opens its sites in the register. */
export function AccessPage() {
  const { power = "view" } = useSearch({ from: "/books/access" });
  const navigate = useNavigate();
  const matrices = useQuery({ queryKey: ["access"], queryFn: () => ok(api.GET("/api/access")) });
  useEffect(() => {
    document.title = "Access · Attic Ledger";
  }, []);
  const matrix = matrices.data?.find((one) => one.power === power);
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Access</h1>
          <p role="status" className="text-second">
            {matrix
              ? `${counted(matrix.total, "site")} in use, by who effectively gets in.`
              : (matrices.error?.message ?? "…")}
          </p>
          <Link to="/limits" className="underline">
            Limits
          </Link>
          <Link to="/guests" className="underline">
            Guests
          </Link>
        </div>
        <div className="mt-2 flex gap-4 text-[13.5px]" role="group" aria-label="Published site, draft or editing">
          {powers.map((one) => (
            <button
              key={one.power}
              type="button"
              aria-pressed={power === one.power}
              className={power === one.power ? "border-b-2 border-brass font-semibold" : "underline"}
              onClick={() =>
                void navigate({
                  to: "/access",
                  search: one.power === "view" ? {} : { power: one.power },
                  replace: true,
                })
              }
            >
              {one.words}
            </button>
          ))}
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto px-5 py-4">{matrix && <Table matrix={matrix} />}</main>
    </>
  );
}

function Table({ matrix }: { matrix: Matrix }) {
  const of = (inside: Inside, outside: Outside) =>
    matrix.cells.find((cell) => cell.inside === inside && cell.outside === outside);
  const is = (axis: string, level: string) =>
    writeClause({ attribute: `${matrix.power}.${axis}`, how: "is", values: [level] });
  const sum = (cells: (Schema["MatrixCell"] | undefined)[]) => cells.reduce((all, cell) => all + (cell?.sites ?? 0), 0);
  return (
    <>
      <table className="w-full max-w-[900px] table-fixed text-[14px]">
        <caption className="mb-1 text-left text-[13px] text-second">
          Rows: how far access goes <Word of="inside">inside</Word>. Columns:{" "}
          <Word of="from outside">from outside</Word>.
        </caption>
        <thead>
          <tr className="text-[12.5px] text-second">
            <th scope="col" className="w-[150px]">
              <span className="sr-only">Inside</span>
            </th>
            {outsides.map(({ level, words }) => (
              <th key={level} scope="col" className="pb-1 font-semibold">
                {words}
              </th>
            ))}
            <th scope="col" className="w-[90px] pb-1 text-right font-semibold">
              All
            </th>
          </tr>
        </thead>
        <tbody>
          {insides.map((row) => (
            <tr key={row.level}>
              <th scope="row" className="pr-3 text-left text-[13px] font-semibold">
                {row.words}
              </th>
              {outsides.map((column) => {
                const cell = of(row.level, column.level);
                return (
                  <td
                    key={column.level}
                    className={clsx(
                      "h-[64px] border border-rule text-center",
                      cell && cell.exceeding > 0 ? "bg-madder-pale" : cell && "bg-bar",
                    )}
                  >
                    {cell ? (
                      <Link
                        to="/"
                        search={{ where: [is("inside", row.level), is("outside", column.level)] }}
                        className="inline-block px-2 py-1 hover:underline"
                      >
                        <span className="text-[19px] tabular-nums underline">{cell.sites.toLocaleString("en-GB")}</span>
                        <span className="sr-only">
                          {" "}
                          sites: inside {row.words}, outside {column.words}
                        </span>
                        {cell.exceeding > 0 && (
                          <span className="block text-[12.5px] font-semibold text-madder">
                            {cell.exceeding.toLocaleString("en-GB")} exceed policy
                          </span>
                        )}
                      </Link>
                    ) : (
                      <span className="text-second">0</span>
                    )}
                  </td>
                );
              })}
              <td className="pl-3 text-right text-second tabular-nums">
                {sum(outsides.map((column) => of(row.level, column.level))).toLocaleString("en-GB")}
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row" className="pt-1 pr-3 text-left text-[13px] font-semibold">
              All
            </th>
            {outsides.map((column) => (
              <td key={column.level} className="pt-1 text-center text-second tabular-nums">
                {sum(insides.map((row) => of(row.level, column.level))).toLocaleString("en-GB")}
              </td>
            ))}
            <td className="pt-1 pl-3 text-right tabular-nums">{sum(matrix.cells).toLocaleString("en-GB")}</td>
          </tr>
        </tbody>
      </table>
      <p className="mt-3 text-[13.5px] text-second">
        {matrix.notPublished > 0 && `${counted(matrix.notPublished, "site")} never published: nothing to view yet. `}
        {matrix.cannotTell > 0
          ? `Facts are missing for ${counted(matrix.cannotTell, "site")}, so ${matrix.cannotTell === 1 ? "it is" : "they are"} in no cell.`
          : "The access of every other site is known."}
      </p>
    </>
  );
}
