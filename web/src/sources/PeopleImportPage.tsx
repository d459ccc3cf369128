import { Link } from "@tanstack/react-router";
import { api, ok, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { RuleMoves } from "../classification/RuleMoves";
import { Button } from "../ui/Button";
import { SidePanel } from "../ui/SidePanel";
import { counted } from "../ui/words";
import { ChooseList } from "./ChooseList";
import { HowRead } from "./HowRead";
import { asQuery, listOfPeople } from "./importCalls";
import { asItIs } from "./listFile";
import { ImportRows } from "./ImportRows";
import { FirstItems } from "./TitledList";
import { SiteImports } from "./Imports";
import { ToMend } from "./ToMend";
import { useImport } from "./useImport";

type PeoplePlan = Schema["PeoplePlan"];

/** Imports a list of people: choose a file, review the plan, then import. */
export function PeopleImportPage() {
  const siteImport = useImport<PeoplePlan>({
    plan: (list, reading) =>
      ok(api.POST("/api/people/imports/plan", { params: { query: asQuery(reading) }, ...asItIs(list) })),
    take: (list, reading, fingerprint) =>
      ok(api.POST("/api/people/imports", { params: { query: { ...asQuery(reading), fingerprint } }, ...asItIs(list) })),
  });
  const { file, how, plan, take, again } = siteImport;
  return (
    <SidePanel
      title="Import people"
      lead="For staff without a connected staff list, and for guests whom no host reports in full. You see the plan before anything is imported."
    >
      <ChooseList onChoose={siteImport.choose}>
        <code>mail</code> (required), <code>name</code>, <code>kind</code> (staff, guest, service; required for new
        people), <code>unit</code> (a code), <code>classification</code> (of the sites they make), <code>standing</code>{" "}
        (current, absent, leaving, left), <code>leaves</code> (the last day), <code>away</code> (the last day of an
        absence). An empty cell means not reported; a dash means none. People that the list lacks stay as they are.
      </ChooseList>
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
      {plan.data && file && (
        <>
          <HowRead isOfPeople list={plan.data.reading} how={how} onChange={siteImport.readAs} isBusy={plan.isPending} />
          <Planned plan={plan.data} />
          <ImportRows
            key={plan.data.fingerprint}
            kind={listOfPeople}
            plan={plan.data}
            file={file}
            query={asQuery(how)}
          />
          {plan.data.problems.length > 0 && (
            <ToMend
              name="People"
              then="Import the corrected lines."
              fetch={() => listOfPeople.faults(file, asQuery(how))}
            />
          )}
        </>
      )}
      <ActionFault error={take.error} />
      {plan.data && file && !take.isSuccess && (
        <div className="mt-4 flex gap-2">
          {plan.data.new + plan.data.changed > 0 && (
            <Button
              look="primary"
              className="py-2"
              disabled={take.isPending || plan.isPending}
              onClick={siteImport.takeIn}
            >
              {take.isPending
                ? "Importing …"
                : `Import ${counted(plan.data.new + plan.data.changed, "person", "people")}`}
            </Button>
          )}
          <Button className="py-2" onClick={again}>
            Cancel
          </Button>
        </div>
      )}
      {take.isSuccess && (
        <p role="status" className="mt-4 border-l-[3px] border-moss bg-moss-pale px-3 py-2 font-semibold">
          Imported. It can be undone below.
        </p>
      )}
      <SiteImports kind={listOfPeople} />
      <p className="mt-6">
        <Link to="/sources" className="underline">
          To the sources
        </Link>
      </p>
    </SidePanel>
  );
}

function Planned({ plan }: { plan: PeoplePlan }) {
  return (
    <section className="mt-5 border-l-[3px] border-slate pl-3" aria-label="Plan">
      <h2 className="text-[17px]">Plan</h2>
      <p role="status">
        {counted(plan.people, "person", "people")} in the list
        {plan.new + plan.changed === 0
          ? "; the register has the same facts already."
          : `: ${plan.new.toLocaleString("en-GB")} new, ${plan.changed.toLocaleString("en-GB")} changed. ${plan.sites === 0 ? "No site is affected." : `${counted(plan.sites, "site may be affected", "sites may be affected")}: their access or owners change.`}`}
      </p>
      {plan.rules.length > 0 ? (
        <p>
          Findings:
          <RuleMoves moves={plan.rules} />
        </p>
      ) : (
        plan.sites > 0 && <p>No finding is new and none ends.</p>
      )}
      <FirstItems
        title="Lines not imported, and cells not understood"
        items={plan.problems}
        all={plan.refusals + plan.notUnderstood}
        isBad
      />
    </section>
  );
}
