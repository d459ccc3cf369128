import { Link, useParams } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { SidePanel } from "../ui/SidePanel";
import { counted, instantOf } from "../ui/words";
import { RuleMoves } from "../classification/RuleMoves";
import { asItIs } from "./listFile";
import { ImportRows } from "./ImportRows";
import { ChooseList } from "./ChooseList";
import { HowRead, type Reading } from "./HowRead";
import { asQuery, listOfSites } from "./importCalls";
import { TitledList } from "./TitledList";
import { FirstItems } from "./TitledList";
import { SiteImports } from "./Imports";
import { ToMend } from "./ToMend";
import { useImport } from "./useImport";

type ImportPlan = Schema["ImportPlan"];

/** Imports a list of sites: choose a file, review the plan, then import. */
export function ImportPage() {
  const { name } = useParams({ from: "/books/sources/$name/import" });
  const [isWhole, setWhole] = useState(true);
  const [asOf, setAsOf] = useState("");
  const kind = useMemo(() => listOfSites(name), [name]);
  const rows = (reading: Reading) => ({
    ...(asOf ? { asOf: instantOf(asOf) } : {}),
    ...asQuery(reading),
  });
  const siteImport = useImport<ImportPlan>({
    plan: (list, reading) =>
      ok(
        api.POST("/api/sources/{name}/imports/plan", {
          params: { path: { name }, query: { whole: isWhole, ...rows(reading) } },
          ...asItIs(list),
        }),
      ),
    take: (list, reading, fingerprint) =>
      ok(
        api.POST("/api/sources/{name}/imports", {
          params: { path: { name }, query: { whole: isWhole, ...rows(reading), fingerprint } },
          ...asItIs(list),
        }),
      ),
  });
  const { file, how, plan, take, again } = siteImport;
  return (
    <SidePanel
      title={`Import sites of ${name}`}
      lead="A workbook (.xlsx) or CSV file whose first line names the columns. You see the plan before anything is imported."
    >
      <ChooseList onChoose={siteImport.choose}>
        <code>key</code> or <code>address</code> (one of them is needed), <code>name</code>, <code>unit</code>,{" "}
        <code>classification</code>, <code>kind</code>, <code>status</code> (never published, published, offline),{" "}
        <code>created</code>, <code>edited</code>, <code>visited</code> (days, as 2026-01-31), <code>visits</code>,{" "}
        <code>pages</code>, <code>owners</code>, <code>editors</code>, <code>viewers</code> (mail addresses, staff,
        partners, anonymous, unit:CODE), <code>shut</code> (since which day). An empty cell means not reported; a dash
        means none.
      </ChooseList>
      <Field
        label="As of (empty: now)"
        type="datetime-local"
        value={asOf}
        onChange={(event) => {
          again();
          setAsOf(event.target.value);
        }}
        hint="Changes made after this time are kept."
      />
      <label className="mt-3 flex items-center gap-2 font-semibold">
        <input
          type="checkbox"
          className="h-6 w-6 accent-cover"
          checked={isWhole}
          onChange={(event) => {
            again();
            setWhole(event.target.checked);
          }}
        />
        The list is complete: mark sites that it lacks as no longer reported
      </label>
      {!plan.data && (
        <Button
          look="primary"
          className="mt-4 py-2"
          disabled={!file || plan.isPending}
          onClick={() => siteImport.showPlan()}
        >
          Show the plan
        </Button>
      )}
      <ActionFault error={plan.error} />
      {plan.data && <HowRead list={plan.data.reading} how={how} onChange={siteImport.readAs} isBusy={plan.isPending} />}
      {plan.data && <Planned plan={plan.data} />}
      {plan.data && file && (
        <ImportRows key={plan.data.fingerprint} kind={kind} plan={plan.data} file={file} query={rows(how)} />
      )}
      {plan.data && file && plan.data.notSites + plan.data.notUnderstood > 0 && (
        <ToMend
          name={name}
          then="Import the corrected lines as an incomplete list."
          fetch={() => kind.faults(file, asQuery(how))}
        />
      )}
      <ActionFault error={take.error} />
      {plan.data && file && !take.isSuccess && (
        <div className="mt-4 flex gap-2">
          <Button
            look="primary"
            className="py-2"
            disabled={take.isPending || plan.isPending}
            onClick={siteImport.takeIn}
          >
            {take.isPending ? "Importing …" : `Import ${counted(plan.data.sites, "site")}`}
          </Button>
          <Button className="py-2" onClick={again}>
            Cancel
          </Button>
        </div>
      )}
      {take.isSuccess && (
        <p role="status" className="mt-4 border-l-[3px] border-moss bg-moss-pale px-3 py-2 font-semibold">
          Imported.{" "}
          <Link to="/" search={{ filter: `host eq "${name}"` }} className="underline">
            See the sites of {name}
          </Link>
        </p>
      )}
      <SiteImports kind={kind} />
      <p className="mt-6">
        <Link to="/sources" className="underline">
          To the sources
        </Link>
      </p>
    </SidePanel>
  );
}

function Planned({ plan }: { plan: ImportPlan }) {
  const nothing = plan.new + plan.changed + plan.gone + plan.hostChanges.length === 0;
  return (
    <section className="mt-5 border-l-[3px] border-slate pl-3" aria-label="Plan">
      <h2 className="text-[17px]">Plan</h2>
      <p role="status">
        {counted(plan.sites, "site")} in the list
        {nothing
          ? "; the register has the same facts already."
          : `: ${counted(plan.new, "new one")}, ${plan.changed.toLocaleString("en-GB")} changed, ${plan.gone.toLocaleString("en-GB")} no longer reported.`}
      </p>
      {plan.rules.length > 0 && (
        <p>
          Findings:
          <RuleMoves moves={plan.rules} />
        </p>
      )}
      <FirstItems
        title="No longer reported (they stay in the register)"
        items={plan.noLongerReported}
        all={plan.gone}
      />
      {plan.hostChanges.length > 0 && (
        <TitledList title="Manual tasks">
          {plan.hostChanges.map((hostChange) => (
            <li key={hostChange.hostChange}>
              <Link to="/manual-tasks/$task" params={{ task: hostChange.hostChange }} className="underline">
                <bdi>{hostChange.title}</bdi>
              </Link>
              {hostChange.isSo
                ? ": verified by the list."
                : `: ${hostChange.by?.name ?? "somebody"} reported it done, but ${hostChange.difference}. The task is returned.`}
            </li>
          ))}
        </TitledList>
      )}
      <FirstItems
        title="Lines that are not sites: with these the list counts as incomplete"
        items={plan.refused}
        all={plan.notSites}
        isBad
      />
      <FirstItems
        title="Not understood: imported as not reported"
        items={plan.problems}
        all={plan.notUnderstood}
        isBad
      />
    </section>
  );
}
