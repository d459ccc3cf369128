import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { useMe } from "../api/useMe";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Field, Reason } from "../ledger/Field";
import { Sheet, Waiting } from "../ledger/Sheet";
import { listed, onDay } from "../ledger/words";
import { useFolio } from "../margin/Margin";
import { Holds } from "./Holds";
import { Loss } from "./Loss";
import { StayNotes, useStay } from "./StayNotes";

/** Putting a site away: which it is, what blocks it, what goes, until when it can come back, and one confirmation that fits. */
export function PutAwayPage() {
  const { site } = useParams({ from: "/books/sites/$site/put-away" });
  const folio = useFolio(Number(site));
  const me = useMe();
  const path = { site: Number(site) };
  const plan = useQuery({
    queryKey: ["put away", path.site],
    queryFn: () => ok(api.POST("/api/sites/{site}/put-away/plan", { params: { path } })),
    retry: false,
  });
  const stay = useStay(path.site);
  if (!folio.data || !plan.data || !me) return <Waiting title="Put a site away" error={folio.error ?? plan.error} />;
  const line = folio.data.line;
  const isUnderWay = !!stay.data && !["back", "stopped", "not-done"].includes(stay.data.stay.state);
  const planned = plan.data.plan;
  return (
    <Sheet title={`Put away ${line.title}`} lead={<Which folio={folio.data} />}>
      {isUnderWay ? (
        <section className="mt-4 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">It is on its way</h2>
          <StayNotes site={path.site} />
        </section>
      ) : (
        <>
          <Refused title="First, in this order" reasons={plan.data.refused} />
          {planned && <Loss plan={planned} host={line.host} />}
          {planned && <Confirm key={planned.fingerprint} plan={planned} folio={folio.data} />}
          {me.role !== "owner" && <Holds site={path.site} holds={folio.data.holds} mayHold />}
          <p className="mt-4">
            <Link to={me.role === "owner" ? "/yours" : "/"} className="underline">
              Leave it in use
            </Link>
          </p>
        </>
      )}
    </Sheet>
  );
}

// The target, unmistakable.
function Which({ folio }: { folio: Wire["FolioWire"] }) {
  const owners = folio.keyHolders.map((holder) => holder.person.name);
  return (
    <>
      <p className="font-address text-[13px] break-all">{folio.line.address ?? "no address"}</p>
      <p className="mt-1">
        {folio.line.unit?.name ?? (folio.unknowns.includes("unit") ? "Unit not known" : "No unit")},{" "}
        {folio.kind ?? "kind not known"}; owned by {owners.length === 0 ? "nobody" : listed(owners)}; last edited{" "}
        {folio.line.lastEdit ? `on ${onDay(folio.line.lastEdit)}` : "at a time not known"}, last visited{" "}
        {folio.lastVisit ? `on ${onDay(folio.lastVisit)}` : "never, or not measured"}.
      </p>
    </>
  );
}

const soon = (minutes: number) => (minutes === 60 ? "in an hour" : `in ${minutes} minutes`);

function Confirm(props: { plan: Wire["PlanWire"]; folio: Wire["FolioWire"] }) {
  const { plan, folio } = props;
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const [reason, setReason] = useState("");
  const path = { site: folio.line.id };
  const put = useDeed(
    () =>
      api.POST("/api/sites/{site}/put-away", {
        params: { path, header: newKey() },
        body: { typed, fingerprint: plan.fingerprint, reason: reason || null },
      }),
    (done) =>
      done.approval ? navigate({ to: "/approvals/$approval", params: { approval: done.approval } }) : undefined,
  );
  const needsName = plan.sure !== "undo-alone";
  const fits = !needsName || typed.trim() === folio.line.title.trim();
  return (
    <form
      className="mt-5 border-t border-rule-strong pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (fits) put.mutate();
      }}
    >
      <h2 className="font-text text-[15px] font-bold">
        {plan.sure === "undo-alone"
          ? "A small site that was never live: the way back is enough"
          : plan.sure === "type-the-name"
            ? "Others use it: type its name"
            : "It takes two people"}
      </h2>
      {plan.needsSecond && <p className="mt-1">{plan.needsSecond}</p>}
      {plan.byHand && <p className="mt-1 text-ochre">{plan.byHand}</p>}
      {plan.stopMinutes !== null && (
        <p className="mt-1">
          It is put away {soon(plan.stopMinutes)}, and can be stopped until then. An administrator hears of it.
        </p>
      )}
      {needsName && (
        <Field
          label="The site's name"
          value={typed}
          autoComplete="off"
          onChange={(event) => setTyped(event.target.value)}
          hint={
            <>
              Type <b className="text-ink">{folio.line.title}</b>
            </>
          }
        />
      )}
      <Reason value={reason} onChange={setReason} />
      <DeedFault error={put.error} />
      <Button type="submit" look="deed" className="mt-4 py-2" disabled={!fits || put.isPending}>
        {plan.needsSecond
          ? "Ask a second person"
          : plan.stopMinutes !== null
            ? `Put it away ${soon(plan.stopMinutes)}`
            : "Put it away"}
      </Button>
    </form>
  );
}
