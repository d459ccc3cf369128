import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Files } from "../ui/Files";
import { Waiting } from "../ui/SidePanel";
import { atMinute, counted, onDate } from "../ui/words";
import { without, type ReportSearch } from "../api/search";

type Report = Schema["Report"];

const isDate = /^\d{4}-\d{2}-\d{2}( |$)/;

/** One report, to read, print or export. */
export function ReportPage() {
  const { report: name } = useParams({ from: "/books/reports/$report" });
  const search = useSearch({ from: "/books/reports/$report" });
  const report = useQuery({
    queryKey: ["report", name, search],
    queryFn: () => ok(api.GET("/api/reports/{report}", { params: { path: { report: name }, query: search } })),
    placeholderData: keepPreviousData,
  });
  const data = report.data;
  useEffect(() => {
    if (data) document.title = `${data.report.title} · Attic Ledger`;
  }, [data]);
  if (!data) return <Waiting title="A report" error={report.error} />;
  return (
    <main className="flex min-h-0 flex-1 flex-col print:block">
      <div className="flex shrink-0 items-start gap-6 border-b border-rule-strong px-5 pt-3.5 pb-3 print:px-0">
        <div className="min-w-0 flex-1">
          <p className="text-[13px] print:hidden">
            <Link to="/reports" className="underline">
              Reports
            </Link>
          </p>
          <h1 className="mt-0.5 text-[21px]">{data.report.title}</h1>
          <p className="text-second">
            {spanLabels(data)}
            {data.by && (
              <>
                {" "}
                Only actions of <bdi>{data.by.name}</bdi> did.{" "}
                <Link
                  to="/reports/$report"
                  params={{ report: name }}
                  search={(now) => without(now, "by")}
                  className="underline print:hidden"
                >
                  Show all people
                </Link>
              </>
            )}
          </p>
          {data.notes.map((note) => (
            <p key={note} className="mt-1">
              {note}
            </p>
          ))}
          <p className="mt-1 text-[13px] text-second">
            {counted(data.total, "row")}
            {data.total > data.rows.length &&
              `; the first ${data.rows.length.toLocaleString("en-GB")} are shown; an export has all`}
            . Created {atMinute(data.madeAt)}.
          </p>
        </div>
        <div className="flex shrink-0 flex-col items-end gap-2 print:hidden">
          <div className="flex items-baseline gap-3">
            {data.total > 0 && <Files hrefOf={(form) => fileOf(name, search, form)} />}
            <Button onClick={() => window.print()}>Print</Button>
          </div>
          <Days report={data} search={search} />
        </div>
      </div>
      <div
        className={clsx(
          "min-h-0 flex-1 overflow-auto print:overflow-visible",
          report.isPlaceholderData && "opacity-60",
        )}
        role="region"
        aria-label="Rows"
        // Its rows need no links, and it scrolls.
        // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
        tabIndex={0}
      >
        {data.rows.length === 0 ? (
          <p className="p-8 text-second">The report is empty: nothing matches.</p>
        ) : (
          <Rows report={data} />
        )}
      </div>
    </main>
  );
}

function spanLabels({ report, on, from, through }: Report): string {
  switch (report.span) {
    case "day":
      return `At the end of ${onDate(on)}.`;
    case "days":
      return `From ${onDate(from)} through ${onDate(through)}.`;
    default:
      return "As it is now.";
  }
}

/** The day or days of the report. */
function Days({ report, search }: { report: Report; search: ReportSearch }) {
  const navigate = useNavigate();
  const choose = (change: ReportSearch) =>
    void navigate({
      to: "/reports/$report",
      params: { report: report.report.name },
      search: { ...search, ...change },
      replace: true,
    });
  const day = (label: string, key: "on" | "from" | "through") => (
    <Field
      key={`${key} ${report[key]}`}
      type="date"
      label={label}
      defaultValue={report[key]}
      onChange={(event) => event.target.value && choose({ [key]: event.target.value })}
    />
  );
  if (report.report.span === "now") return null;
  return (
    <div className="flex gap-3 [&>div]:mt-0">
      {report.report.span === "day" ? (
        day("Day", "on")
      ) : (
        <>
          {day("From", "from")}
          {day("Through", "through")}
        </>
      )}
    </div>
  );
}

function Rows({ report }: { report: Report }) {
  const { columns, rows } = report;
  const link = columns.findIndex((column) => column.head === "site" || column.head === "about");
  return (
    <table className="w-full text-[13px] print:text-[9pt]">
      <thead className="sticky top-0 z-10 bg-sheet print:static">
        <tr className="text-left text-[12px] text-second">
          {columns.map((column) => (
            <th
              key={column.head}
              scope="col"
              className={clsx("px-2 py-1.5 first:pl-5", column.isNumber && "text-right")}
            >
              {column.head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, at) => (
          <tr
            key={at}
            className={clsx("break-inside-avoid align-top", Math.floor(at / 3) % 2 === 1 ? "bg-bar" : "bg-sheet")}
          >
            {row.cells.map((cell, place) => (
              <td
                key={columns[place]?.head}
                className={clsx(
                  "px-2 py-1 break-words first:pl-5",
                  columns[place]?.isNumber && "text-right tabular-nums",
                  isDate.test(cell) && "whitespace-nowrap",
                )}
              >
                {place === link && row.site ? (
                  <Link to="/sites/$site" params={{ site: String(row.site) }} className="font-semibold underline">
                    <bdi>{cell}</bdi>
                  </Link>
                ) : (
                  <bdi>{cell}</bdi>
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function fileOf(report: string, search: ReportSearch, form: string): string {
  const query = new URLSearchParams({ as: form });
  for (const [key, value] of Object.entries(search)) query.set(key, String(value));
  return `/api/reports/${encodeURIComponent(report)}/export?${query}`;
}
