import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { SidePanel, Steps, Waiting } from "../ui/SidePanel";
import { onDate, onDay } from "../ui/words";
import { EffectList } from "../actions/EffectList";

type Offer = Schema["Offer"];

/** One offer of ownership: to answer, to withdraw, to follow, and afterwards its receipt. */
export function OfferPage() {
  const { offer: id } = useParams({ from: "/books/offers/$offer" });
  const { link } = useSearch({ from: "/books/offers/$offer" });
  const path = { offer: id };
  const offer = useQuery({
    queryKey: ["offer", id],
    queryFn: () => ok(api.GET("/api/offers/{offer}", { params: { path } })),
    refetchInterval: (query) => (query.state.data?.state === "completing" ? 1000 : false),
  });
  if (!offer.data) return <Waiting title="An offer of ownership" error={offer.error} />;
  return (
    <SidePanel
      title={`Ownership of ${offer.data.title}`}
      lead={<span className="font-address text-[13px] break-all">{offer.data.address ?? "no address"}</span>}
    >
      <p className="mt-3">{lead(offer.data)}</p>
      {offer.data.reason && <p className="mt-1 text-second">“{offer.data.reason}”</p>}
      <Steps steps={offer.data.steps} />
      <State offer={offer.data} />
      {offer.data.mayAnswer && <Answer offer={offer.data} link={link} />}
      {offer.data.mayWithdraw && !offer.data.mayAnswer && <Undo offer={offer.data} />}
      <Receipt offer={offer.data} />
    </SidePanel>
  );
}

function lead(offer: Offer): string {
  const on = onDay(offer.offeredAt);
  if (offer.currentOwner && offer.currentOwner.id === offer.by.id)
    return `${offer.by.name} offered it to ${offer.to.name} on ${on} and ${{ stays: "stays as an editor", leaves: "leaves the site", owns: "stays an owner" }[offer.after]}.`;
  const agreed = offer.second ? `; ${offer.second.name} agreed as the second person` : "";
  return offer.currentOwner
    ? `${offer.by.name} offered it to ${offer.to.name} on ${on} in the place of ${offer.currentOwner.name}, who is not active${agreed}.`
    : offer.after === "owns"
      ? `${offer.by.name} asked ${offer.to.name} on ${on} to become an owner too${agreed}.`
      : `${offer.by.name} offered it to ${offer.to.name} on ${on}; it had no owner${agreed}.`;
}

function State({ offer }: { offer: Offer }) {
  const words: Record<Offer["state"], string> = {
    offered: `It lapses at the end of ${onDate(offer.through)} without an answer.`,
    completing: `${offer.to.name} has accepted. The change of owner is queued or sent to ${offer.host}; this page follows it.`,
    "handed-over": `${offer.to.name} is an owner.`,
    declined: `${offer.to.name} declined it${offer.words ? `: ${offer.words}` : "."}`,
    lapsed: `Nobody answered by the end of ${onDate(offer.through)}, so it lapsed. Nothing has changed.`,
    withdrawn: "It was withdrawn. Nothing has changed.",
    void: "It is void: the site was moved to the attic, or can no longer be handed over.",
    "not-done": `${offer.host} refused to change the owner: ${offer.words ?? ""}`,
  };
  return (
    <p role="status" className="mt-3 font-semibold">
      {words[offer.state]}
    </p>
  );
}

function Answer({ offer, link }: { offer: Offer; link: string | undefined }) {
  const [isDeclining, setDeclining] = useState(false);
  const [reason, setReason] = useState("");
  const path = { offer: offer.id };
  const accept = useAction((fingerprint: string) =>
    api.POST("/api/offers/{offer}/accept", {
      params: { path },
      body: { fingerprint, link: link ?? null, reason: null },
    }),
  );
  const decline = useAction(() =>
    api.POST("/api/offers/{offer}/decline", {
      params: { path },
      body: { reason: reason || null, link: link ?? null },
    }),
  );
  const plan = offer.plan;
  return (
    <section className="mt-5" aria-label="Your answer">
      <p>
        An owner answers for the site: who may view and edit it, and how long it exists. You cannot undo an accepted
        handover, but you can offer the site to another person.
      </p>
      {plan && (
        <div className="mt-4 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">Effect of accepting</h2>
          <EffectList plan={plan} />
        </div>
      )}
      <Refused title="You cannot accept it" reasons={offer.refused} />
      <ActionFault error={accept.error ?? decline.error} />
      {isDeclining && <Reason value={reason} onChange={setReason} />}
      <div className="mt-4 flex flex-wrap gap-2">
        {plan && !isDeclining && (
          <Button
            look="primary"
            className="py-2"
            disabled={accept.isPending}
            onClick={() => accept.mutate(plan.fingerprint)}
          >
            Accept ownership
          </Button>
        )}
        {isDeclining ? (
          <>
            <Button look="primary" className="py-2" disabled={decline.isPending} onClick={() => decline.mutate()}>
              Decline the offer
            </Button>
            <Button className="py-2" onClick={() => setDeclining(false)}>
              Back
            </Button>
          </>
        ) : (
          <Button className="py-2" onClick={() => setDeclining(true)}>
            Decline …
          </Button>
        )}
      </div>
    </section>
  );
}

function Undo({ offer }: { offer: Offer }) {
  const path = { offer: offer.id };
  const withdraw = useAction(() =>
    api.POST("/api/offers/{offer}/withdraw", {
      params: { path },
      body: { reason: null, link: null },
    }),
  );
  return (
    <div className="mt-4">
      <ActionFault error={withdraw.error} />
      <Button disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
        Withdraw the offer
      </Button>
    </div>
  );
}

function Receipt({ offer }: { offer: Offer }) {
  if (offer.receipt.length === 0) return null;
  return (
    <section className="mt-6 border-t border-rule-strong pt-3">
      <h2 className="text-[17px]">Receipt</h2>
      <ul className="mt-1 list-disc pl-5">
        {offer.receipt.map((line) => (
          <li key={line}>
            <bdi>{line}</bdi>
          </li>
        ))}
      </ul>
      {offer.unaffected.length > 0 && (
        <>
          <h3 className="mt-3 font-text text-[14px] font-bold">What the former owner keeps</h3>
          <ul className="mt-1 list-disc pl-5 text-ochre">
            {offer.unaffected.map((line) => (
              <li key={line}>
                <bdi>{line}</bdi>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-3">
        <Link to="/your-sites" className="underline">
          To your sites
        </Link>
      </p>
    </section>
  );
}
