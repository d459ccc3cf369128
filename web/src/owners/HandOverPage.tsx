import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { NoMail } from "../actions/NoMail";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { listed } from "../ui/words";
import { useSitePage } from "../api/useSitePage";
import { useMe } from "../api/useMe";
import { OfferForm } from "./OfferForm";

type Holder = Schema["SiteOwner"];

/** Offers a site to a new owner: one's own site, or that of an owner who is not active. */
export function HandOverPage() {
  const { site } = useParams({ from: "/books/sites/$site/hand-over" });
  const sitePage = useSitePage(Number(site));
  const me = useMe();
  if (!sitePage.data || !me) return <Waiting title="Hand over a site" error={sitePage.error} />;
  const named = sitePage.data.siteOwners.filter((holder) => holder.through === null);
  const own = named.find((holder) => holder.person.mail === me.mail);
  const gone = named.filter((holder) => holder.isGone);
  const currentOwners = own ? [own] : gone;
  return (
    <SidePanel
      title={`Hand over ${sitePage.data.line.title}`}
      lead={<span className="font-address text-[13px] break-all">{sitePage.data.line.address}</span>}
    >
      {sitePage.data.noHandOver ? (
        <Refused title="Not possible" reasons={[sitePage.data.noHandOver]} />
      ) : currentOwners.length === 0 && named.length > 0 && me.role !== "owner" ? (
        <AskThem site={sitePage.data.line.id} holders={named} />
      ) : (
        <OfferForm site={sitePage.data.line.id} currentOwners={currentOwners} isOwn={own !== undefined} />
      )}
    </SidePanel>
  );
}

/** The owners are still here and only they can offer the site, so the page asks them by mail. */
function AskThem({ site, holders }: { site: number; holders: Holder[] }) {
  const [reason, setReason] = useState("");
  const path = { site };
  const plan = useQuery({
    queryKey: ["ask owners", site],
    queryFn: () => ok(api.POST("/api/sites/{site}/ask-owners/plan", { params: { path } })),
    retry: false,
  });
  const ask = useAction((fingerprint: string) =>
    api.POST("/api/sites/{site}/ask-owners", {
      params: { path },
      body: { fingerprint, reason: reason || null },
    }),
  );
  const planned = plan.data?.plan;
  return (
    <div className="mt-4">
      <p>
        Only an owner can hand the site over:{" "}
        {listed(holders.map((holder) => `${holder.person.name}, who ${holder.note}`))}.
      </p>
      <p className="mt-2">
        Without them you can{" "}
        <Link to="/sites/$site/add-owner" params={{ site: site.toString() }} className="underline">
          add an owner
        </Link>
        , with a reason{holders.some((holder) => holder.isActive) ? "" : " and a second person"}.
      </p>
      {planned && (
        <>
          <ul className="mt-3 list-disc pl-5">
            {planned.sideEffects.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
          <NoMail />
          <Reason value={reason} onChange={setReason} />
        </>
      )}
      {plan.data && <Refused title="No owner can be asked" reasons={plan.data.refused} />}
      <ActionFault error={ask.error} />
      {ask.isSuccess ? (
        <p role="status" className="mt-4 text-moss">
          The mail to the owners is on its way.
        </p>
      ) : (
        planned && (
          <Button
            look="primary"
            className="mt-4 py-2"
            disabled={ask.isPending}
            onClick={() => ask.mutate(planned.fingerprint)}
          >
            Ask the owners by mail
          </Button>
        )
      )}
    </div>
  );
}
