import { Link, useParams } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";
import { Sheet } from "../ledger/Sheet";
import { counted } from "../ledger/words";
import { RuleMoves } from "../first-week/RuleMoves";
import { asItIs } from "./listFile";
import { ListRows } from "./ListRows";
import { ChooseList } from "./ChooseList";
import { HowRead, type Reading } from "./HowRead";
import { asQuery, listOfSites } from "./listCalls";
import { Part } from "./Part";
import { Some } from "./Some";
import { Takings } from "./Takings";
import { ToMend } from "./ToMend";
import { useTakingIn } from "./useTakingIn";

type ListPlan = Wire["ListPlanWire"];

/** A list kept by hand is taken in: chosen, tried out, and only then written into the register. */
export function ListPage() {
  const { name } = useParams({ from: "/books/sources/$name/list" });
  const [isWhole, setWhole] = useState(true);
  const [asOf, setAsOf] = useState("");
  const kind = useMemo(() => listOfSites(name), [name]);
  const rows = (reading: Reading) => ({
    ...(asOf ? { asOf: new Date(asOf).toISOString() } : {}),
    ...asQuery(reading),
  });
  const taking = useTakingIn<ListPlan>({
    plan: (list, reading) =>
      ok(
        api.POST("/api/sources/{name}/list/plan", {
          params: { path: { name }, query: { whole: isWhole, ...rows(reading) } },
          ...asItIs(list),
        }),
      ),
    take: (list, reading, fingerprint) =>
      ok(
        api.POST("/api/sources/{name}/list", {
          params: { path: { name }, query: { whole: isWhole, ...rows(reading), fingerprint } },
          ...asItIs(list),
        }),
      ),
  });
  const { file, how, plan, take, again } = taking;
  return (
    <Sheet
      title={`Take in a list of ${name}`}
      lead="A workbook (.xlsx) or CSV, its first line naming the columns. First it says what it would come to."
    >
      <ChooseList onChoose={taking.choose}>
        <code>key</code> or <code>address</code> (one of them is needed), <code>name</code>, <code>unit</code>,{" "}
        <code>class</code>, <code>kind</code>, <code>stage</code> (never live, live, offline), <code>created</code>,{" "}
        <code>edited</code>, <code>visited</code> (days, as 2026-01-31), <code>visits</code>, <code>pages</code>,{" "}
        <code>owners</code>, <code>editors</code>, <code>viewers</code> (mail addresses, staff, partners, passers-by,
        unit:CODE), <code>shut</code> (the day since when). An empty cell says nothing; a dash says that there is none.
      </ChooseList>
      <Field
        label="When the list was true (if not now)"
        type="datetime-local"
        value={asOf}
        onChange={(event) => {
          again();
          setAsOf(event.target.value);
        }}
        hint="What was done since stands against it."
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
        It names all sites there are: what it leaves out has vanished
      </label>
      {!plan.data && (
        <Button look="deed" className="mt-4 py-2" disabled={!file || plan.isPending} onClick={() => taking.look()}>
          See what it would come to
        </Button>
      )}
      <DeedFault error={plan.error} />
      {plan.data && <HowRead list={plan.data.reading} how={how} onChange={taking.readAs} />}
      {plan.data && <Planned plan={plan.data} />}
      {plan.data && file && (
        <ListRows key={plan.data.fingerprint} kind={kind} plan={plan.data} file={file} query={rows(how)} />
      )}
      {plan.data && file && plan.data.notSites + plan.data.notUnderstood > 0 && (
        <ToMend
          name={name}
          then="Take it in as a part when it is mended."
          fetch={() => kind.faults(file, asQuery(how))}
        />
      )}
      <DeedFault error={take.error} />
      {plan.data && file && !take.isSuccess && (
        <div className="mt-4 flex gap-2">
          <Button look="deed" className="py-2" disabled={take.isPending || plan.isPending} onClick={taking.takeIn}>
            {take.isPending ? "Taking it in …" : `Take in ${counted(plan.data.sites, "site")}`}
          </Button>
          <Button className="py-2" onClick={again}>
            Leave it
          </Button>
        </div>
      )}
      {take.isSuccess && (
        <p role="status" className="mt-4 border-l-[3px] border-moss bg-moss-pale px-3 py-2 font-semibold">
          Taken in.{" "}
          <Link to="/" search={{ filter: `host eq "${name}"` }} className="underline">
            See the sites of {name}
          </Link>
        </p>
      )}
      <Takings kind={kind} />
      <p className="mt-6">
        <Link to="/sources" className="underline">
          To the sources
        </Link>
      </p>
    </Sheet>
  );
}

function Planned({ plan }: { plan: ListPlan }) {
  const nothing = plan.new + plan.changed + plan.gone + plan.orders.length === 0;
  return (
    <section className="mt-5 border-l-[3px] border-slate pl-3" aria-label="What it would come to">
      <h2 className="text-[17px]">What it would come to</h2>
      <p role="status">
        {counted(plan.sites, "site")} in the list
        {nothing
          ? "; the register says the same already."
          : `: ${counted(plan.new, "new one")}, ${plan.changed.toLocaleString("en-GB")} changed, ${plan.gone.toLocaleString("en-GB")} vanished.`}
      </p>
      {plan.rules.length > 0 && (
        <p>
          Findings:
          <RuleMoves moves={plan.rules} />
        </p>
      )}
      <Some title="Vanished (the register keeps them, marked)" items={plan.vanished} all={plan.gone} />
      {plan.orders.length > 0 && (
        <Part title="Orders by hand">
          {plan.orders.map((order) => (
            <li key={order.order}>
              <Link to="/by-hand/$order" params={{ order: order.order }} className="underline">
                <bdi>{order.title}</bdi>
              </Link>
              {order.isSo
                ? ": the list shows it done."
                : `: ${order.by?.name ?? "somebody"} said that it is done, and ${order.difference}. It goes back to them.`}
            </li>
          ))}
        </Part>
      )}
      <Some
        title="Lines that are no sites: with these, nothing vanishes"
        items={plan.refused}
        all={plan.notSites}
        isBad
      />
      <Some title="Not understood: unknown then" items={plan.problems} all={plan.notUnderstood} isBad />
    </section>
  );
}
