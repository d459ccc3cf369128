import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { counted, listed, onDay } from "../ui/words";
import { useSitePage } from "../api/useSitePage";
import { Holds } from "./Holds";
import { Loss } from "./Loss";
import { AtticEntryNotes, useAtticEntry } from "./AtticEntryNotes";

/** Moves a site to the attic: which site, what blocks it, what is removed, until when it can be restored, and one confirmation. */
export function MoveToAtticPage() {
  const { site } = useParams({ from: "/books/sites/$site/move-to-attic" });
  const sitePage = useSitePage(Number(site));
  const me = useMe();
  const path = { site: Number(site) };
  const plan = useQuery({
    queryKey: ["moved to the attic", path.site],
    queryFn: () => ok(api.POST("/api/sites/{site}/move-to-attic/plan", { params: { path } })),
    retry: false,
  });
  const atticEntry = useAtticEntry(path.site);
  if (!sitePage.data || !plan.data || !me)
    return <Waiting title="Move a site to the attic" error={sitePage.error ?? plan.error} />;
  const line = sitePage.data.line;
  const isUnderWay =
    !!atticEntry.data && !["restored", "stopped", "not-done"].includes(atticEntry.data.atticEntry.state);
  const planned = plan.data.plan;
  return (
    <SidePanel title={`Move to the attic: ${line.title}`} lead={<Which sitePage={sitePage.data} />}>
      {isUnderWay ? (
        <section className="mt-4 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">The move is under way</h2>
          <AtticEntryNotes site={path.site} />
        </section>
      ) : (
        <>
          <Refused title="Do this first, in this order" reasons={plan.data.refused} />
          {me.role !== "owner" && plan.data.refused.some(({ code }) => code === "site-below") && (
            <WithBelow sitePage={sitePage.data} />
          )}
          {planned && <Loss plan={planned} host={line.host} />}
          {planned && <Confirm key={planned.fingerprint} plan={planned} sitePage={sitePage.data} />}
          {me.role !== "owner" && <Holds site={path.site} holds={sitePage.data.holds} mayHold />}
          <p className="mt-4">
            <Link to={me.role === "owner" ? "/your-sites" : "/"} className="underline">
              Cancel
            </Link>
          </p>
        </>
      )}
    </SidePanel>
  );
}

/** The sites below are moved first, then this one: a plan for each of them. */
function WithBelow({ sitePage }: { sitePage: Schema["SitePage"] }) {
  const navigate = useNavigate();
  const below = sitePage.content.children.filter((child) => child.existence === "in-use");
  const plan = useMutation({
    mutationFn: () =>
      ok(
        api.POST("/api/batches", {
          body: { action: "site.move-to-attic", sites: [sitePage.line.id], withBelow: true },
        }),
      ),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  return (
    <p className="mt-3">
      <Button disabled={plan.isPending} onClick={() => plan.mutate()}>
        Move it together with {counted(below.length, "site")} below it …
      </Button>
      {plan.error && (
        <span role="alert" className="ml-3 text-madder">
          {plan.error.message}
        </span>
      )}
    </p>
  );
}

// Names the site so that nobody mistakes it.
function Which({ sitePage }: { sitePage: Schema["SitePage"] }) {
  const owners = sitePage.siteOwners.map((holder) => holder.person.name);
  return (
    <>
      <p className="font-address text-[13px] break-all">{sitePage.line.address ?? "no address"}</p>
      <p className="mt-1">
        {sitePage.line.unit?.name ??
          (sitePage.unknowns.some((unknown) => unknown.fact === "unit") ? "Unit not known" : "No unit")}
        , {sitePage.kind ?? "kind not known"}; owned by {owners.length === 0 ? "nobody" : listed(owners)}; last edited{" "}
        {sitePage.line.lastEdit ? `on ${onDay(sitePage.line.lastEdit)}` : "at a time not known"}, last visited{" "}
        {sitePage.lastVisit ? `on ${onDay(sitePage.lastVisit)}` : "never, or not measured"}.
      </p>
    </>
  );
}

const soon = (minutes: number) => (minutes === 60 ? "in an hour" : `in ${minutes} minutes`);

function Confirm(props: { plan: Schema["Plan"]; sitePage: Schema["SitePage"] }) {
  const { plan, sitePage } = props;
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const [reason, setReason] = useState("");
  const path = { site: sitePage.line.id };
  const move = useAction(
    () =>
      api.POST("/api/sites/{site}/move-to-attic", {
        params: { path },
        body: { typed, fingerprint: plan.fingerprint, reason: reason || null },
      }),
    (done) =>
      done.approval ? navigate({ to: "/approvals/$approval", params: { approval: done.approval } }) : undefined,
  );
  const needsName = plan.confirmation !== "undo-alone";
  const fits = !needsName || typed.trim() === sitePage.line.title.trim();
  return (
    <form
      className="mt-5 border-t border-rule-strong pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (fits) move.mutate();
      }}
    >
      <h2 className="font-text text-[15px] font-bold">
        {plan.confirmation === "undo-alone"
          ? "A small site that was never published: restoring it is enough as a safeguard"
          : plan.confirmation === "type-the-name"
            ? "Other people use it: type its name to confirm"
            : "A second person has to agree"}
      </h2>
      {plan.needsSecond && <p className="mt-1">{plan.needsSecond}</p>}
      {plan.manualTaskFor && <p className="mt-1 text-ochre">{plan.manualTaskFor}</p>}
      {plan.stopMinutes !== null && (
        <p className="mt-1">
          It is moved to the attic {soon(plan.stopMinutes)}, and can be stopped until then. An administrator is told
          about it.
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
              Type <b className="text-ink">{sitePage.line.title}</b>
            </>
          }
        />
      )}
      <Reason value={reason} onChange={setReason} />
      <ActionFault error={move.error} />
      <Button type="submit" look="primary" className="mt-4 py-2" disabled={!fits || move.isPending}>
        {plan.needsSecond
          ? "Ask a second person"
          : plan.stopMinutes !== null
            ? `Move it to the attic ${soon(plan.stopMinutes)}`
            : "Move it to the attic"}
      </Button>
    </form>
  );
}
