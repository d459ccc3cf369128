import { RadioGroup } from "../ui/RadioGroup";
import { Select } from "../ui/Select";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { EffectList } from "../actions/EffectList";
import { useSitePage } from "../api/useSitePage";
import { useMe } from "../api/useMe";
import { Candidates } from "./Candidates";

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

function OfferForm({ site, currentOwners, isOwn }: { site: number; currentOwners: Holder[]; isOwn: boolean }) {
  const navigate = useNavigate();
  const [to, setTo] = useState<Schema["Person"] | null>(null);
  const [currentOwner, setCurrentOwner] = useState(currentOwners[0]?.person.id ?? null);
  const [after, setAfter] = useState<Schema["CurrentOwnerAfter"]>("leaves");
  const [reason, setReason] = useState("");
  const [password, setPassword] = useState("");
  const path = { site };
  const request = { to: to?.id ?? 0, currentOwner, after, reason: reason || null };
  const plan = useQuery({
    queryKey: ["offer plan", site, request],
    queryFn: () => ok(api.POST("/api/sites/{site}/offer/plan", { params: { path }, body: request })),
    enabled: to !== null,
    placeholderData: (before) => before,
    retry: false,
  });
  const offer = useAction(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/offer", {
        params: { path },
        body: { ...request, password, fingerprint },
      }),
    (done) =>
      done.approval
        ? navigate({ to: "/approvals/$approval", params: { approval: done.approval } })
        : navigate({ to: "/offers/$offer", params: { offer: done.offer ?? "" } }),
  );
  const planned = plan.data?.plan;
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) offer.mutate(planned.fingerprint);
      }}
    >
      {!isOwn && (
        <p className="mb-3 border-l-[3px] border-slate pl-3">
          {currentOwners.length > 0
            ? "Its owner is not active and cannot offer it. You offer it in their place, with a reason. A second administrator has to agree."
            : "No person owns this site by name. You assign an owner, with a reason. A second administrator has to agree."}
        </p>
      )}
      {currentOwners.length > 1 && (
        <Select
          labelled="above"
          label="Owner to replace"
          value={String(currentOwner ?? "")}
          choices={currentOwners.map(({ person }) => ({ value: String(person.id), words: person.name }))}
          onChoose={(id) => setCurrentOwner(Number(id))}
        />
      )}
      <Candidates site={site} chosen={to?.id ?? null} onChoose={setTo} />
      {currentOwners.length > 0 && (
        <fieldset className="mt-5">
          <legend className="font-semibold">{isOwn ? "What you keep" : "What the former owner keeps"}</legend>
          <RadioGroup
            value={after}
            choices={[
              { value: "leaves", shown: isOwn ? "I leave: I keep no access by name" : "Keeps no access by name" },
              { value: "stays", shown: isOwn ? "I stay as an editor" : "Stays as an editor" },
            ]}
            onChoose={setAfter}
          />
        </fieldset>
      )}
      <Reason value={reason} onChange={setReason} isNeeded={!isOwn} />
      {to && planned && (
        <section className="mt-5 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">Effect once {to.name} has accepted</h2>
          <EffectList plan={planned} />
        </section>
      )}
      {to && plan.data && <Refused title="It cannot be offered like this" reasons={plan.data.refused} />}
      {plan.error && <p className="mt-2 text-madder">{plan.error.message}</p>}
      <Field
        label="Your password, to confirm your identity"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      <ActionFault error={offer.error} />
      <div className="mt-4 flex flex-wrap gap-2">
        <Button
          look="primary"
          type="submit"
          className="py-2"
          disabled={!planned || plan.isPlaceholderData || password === "" || offer.isPending}
        >
          {!to
            ? "Choose a person first"
            : planned?.needsSecond
              ? `Ask a second person to assign ${to.name}`
              : `Offer it to ${to.name}`}
        </Button>
        <Link to="/your-sites" className="self-center underline">
          Cancel
        </Link>
      </div>
    </form>
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
        {holders.map((holder) => holder.person.name).join(" and ")} {holders.length > 1 ? "own" : "owns"} it and{" "}
        {holders.length > 1 ? "are" : "is"} still active. Only an owner can offer the site.
      </p>
      {planned && (
        <>
          <ul className="mt-3 list-disc pl-5">
            {planned.sideEffects.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
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
