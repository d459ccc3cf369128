import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok } from "../api/client";
import { SidePanel, Waiting } from "../ui/SidePanel";

/** All reports, each with what it shows. */
export function ReportsPage() {
  const reports = useQuery({ queryKey: ["reports"], queryFn: () => ok(api.GET("/api/reports")) });
  if (!reports.data) return <Waiting title="Reports" error={reports.error} />;
  return (
    <SidePanel title="Reports" lead="For audits: on the screen, printed, or exported.">
      <ul className="mt-5 divide-y divide-rule border-y border-rule">
        {reports.data.map((report) => (
          <li key={report.name} className="py-3">
            <Link
              to="/reports/$report"
              params={{ report: report.name }}
              search={{}}
              className="text-[16px] font-semibold underline"
            >
              {report.title}
            </Link>
            <p className="mt-0.5 text-second">{report.says}</p>
          </li>
        ))}
      </ul>
    </SidePanel>
  );
}
