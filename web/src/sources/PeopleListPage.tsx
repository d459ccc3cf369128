import { Link } from "@tanstack/react-router";
import { api, ok, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { RuleMoves } from "../first-week/RuleMoves";
import { Button } from "../ledger/Button";
import { Sheet } from "../ledger/Sheet";
import { counted } from "../ledger/words";
import { ChooseList } from "./ChooseList";
import { HowRead } from "./HowRead";
import { asQuery, listOfPeople } from "./listCalls";
import { asItIs } from "./listFile";
import { ListRows } from "./ListRows";
import { Some } from "./Some";
import { Takings } from "./Takings";
import { ToMend } from "./ToMend";
import { useTakingIn } from "./useTakingIn";

type PeoplePlan = Wire["PeoplePlanWire"];

/** A list of people kept by hand: chosen, tried out, and only then written into the register. */
export function PeopleListPage() {
  const taking = useTakingIn<PeoplePlan>({
    plan: (list, reading) =>
      ok(api.POST("/api/people/list/plan", { params: { query: asQuery(reading) }, ...asItIs(list) })),
    take: (list, reading, fingerprint) =>
      ok(api.POST("/api/people/list", { params: { query: { ...asQuery(reading), fingerprint } }, ...asItIs(list) })),
  });
  const { file, how, plan, take, again } = taking;
  return (
    <Sheet
      title="Take in a list of people"
      lead="Staff where no staff list is connected, and guests of whom no host says enough. First it says what it would come to."
    >
      <ChooseList onChoose={taking.choose}>
        <code>mail</code> (needed, for it tells people apart), <code>name</code>, <code>kind</code> (staff, guest,
        service; needed for whoever is new), <code>unit</code> (a code), <code>class</code> (of what they make),{" "}
        <code>standing</code> (current, absent, leaving, left), <code>leaves</code> (the last day), <code>away</code>{" "}
        (the last day of an absence). An empty cell says nothing; a dash says that there is none. Whoever the list
        leaves out stays as they are.
      </ChooseList>
      {!plan.data && (
        <Button look="deed" className="mt-4 py-2" disabled={!file || plan.isPending} onClick={() => taking.look()}>
          See what it would come to
        </Button>
      )}
      <DeedFault error={plan.error} />
      {plan.data && file && (
        <>
          <HowRead list={plan.data.reading} how={how} onChange={taking.readAs} />
          <Planned plan={plan.data} />
          <ListRows key={plan.data.fingerprint} kind={listOfPeople} plan={plan.data} file={file} query={asQuery(how)} />
          {plan.data.problems.length > 0 && (
            <ToMend
              name="People"
              then="Take it in when it is mended."
              fetch={() => listOfPeople.faults(file, asQuery(how))}
            />
          )}
        </>
      )}
      <DeedFault error={take.error} />
      {plan.data && file && !take.isSuccess && (
        <div className="mt-4 flex gap-2">
          {plan.data.new + plan.data.changed > 0 && (
            <Button look="deed" className="py-2" disabled={take.isPending || plan.isPending} onClick={taking.takeIn}>
              {take.isPending
                ? "Taking it in …"
                : `Take in ${counted(plan.data.new + plan.data.changed, "person", "people")}`}
            </Button>
          )}
          <Button className="py-2" onClick={again}>
            Leave it
          </Button>
        </div>
      )}
      {take.isSuccess && (
        <p role="status" className="mt-4 border-l-[3px] border-moss bg-moss-pale px-3 py-2 font-semibold">
          Taken in. It can be taken back below.
        </p>
      )}
      <Takings kind={listOfPeople} />
      <p className="mt-6">
        <Link to="/sources" className="underline">
          To the sources
        </Link>
      </p>
    </Sheet>
  );
}

function Planned({ plan }: { plan: PeoplePlan }) {
  return (
    <section className="mt-5 border-l-[3px] border-slate pl-3" aria-label="What it would come to">
      <h2 className="text-[17px]">What it would come to</h2>
      <p role="status">
        {counted(plan.people, "person", "people")} in the list
        {plan.new + plan.changed === 0
          ? "; the register says the same already."
          : `: ${plan.new.toLocaleString("en-GB")} new, ${plan.changed.toLocaleString("en-GB")} changed. ${plan.sites === 0 ? "No site feels it." : `${counted(plan.sites, "site may feel it", "sites may feel it")}, by who gets in or who holds a key.`}`}
      </p>
      {plan.rules.length > 0 ? (
        <p>
          Findings:
          <RuleMoves moves={plan.rules} />
        </p>
      ) : (
        plan.sites > 0 && <p>No finding appears or clears by it.</p>
      )}
      <Some
        title="Lines that are not taken, and cells that are not understood"
        items={plan.problems}
        all={plan.refusals + plan.notUnderstood}
        isBad
      />
    </section>
  );
}
