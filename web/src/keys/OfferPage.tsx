import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Reason } from "../ledger/Field";
import { Sheet, Steps, Waiting } from "../ledger/Sheet";
import { onDate, onDay } from "../ledger/words";
import { EffectList } from "../margin/EffectList";

type Offer = Wire["OfferWire"];

/** One offer of a key: to answer, to take back, to follow, and afterwards its receipt. */
export function OfferPage() {
  const { offer: id } = useParams({ from: "/books/offers/$offer" });
  const { link } = useSearch({ from: "/books/offers/$offer" });
  const path = { offer: id };
  const offer = useQuery({
    queryKey: ["offer", id],
    queryFn: () => ok(api.GET("/api/offers/{offer}", { params: { path } })),
    refetchInterval: (query) => (query.state.data?.state === "switching" ? 1000 : false),
  });
  if (!offer.data) return <Waiting title="An offer of a key" error={offer.error} />;
  return (
    <Sheet
      title={`The key of ${offer.data.title}`}
      lead={<span className="font-address text-[13px] break-all">{offer.data.address ?? "no address"}</span>}
    >
      <p className="mt-3">{lead(offer.data)}</p>
      {offer.data.reason && <p className="mt-1 text-second">“{offer.data.reason}”</p>}
      <Steps steps={offer.data.steps} />
      <State offer={offer.data} />
      {offer.data.mayAnswer && <Answer offer={offer.data} link={link} />}
      {offer.data.mayWithdraw && !offer.data.mayAnswer && <TakeBack offer={offer.data} />}
      <Receipt offer={offer.data} />
    </Sheet>
  );
}

function lead(offer: Offer): string {
  const on = onDay(offer.offeredAt);
  if (offer.giver && offer.giver.id === offer.by.id)
    return `${offer.by.name} offered it to ${offer.to.name} on ${on} and ${offer.after === "stays" ? "stays on as an editor" : "leaves the site"}.`;
  const agreed = offer.second ? `; ${offer.second.name} agreed as the second person` : "";
  return offer.giver
    ? `${offer.by.name} offered it to ${offer.to.name} on ${on} in the place of ${offer.giver.name}, who is gone${agreed}.`
    : `${offer.by.name} offered it to ${offer.to.name} on ${on}; nobody held it${agreed}.`;
}

function State({ offer }: { offer: Offer }) {
  const words: Record<Offer["state"], string> = {
    offered: `It can be answered through ${onDate(offer.through)}; after that it lapses.`,
    switching: `${offer.to.name} has accepted. ${offer.host} is being asked to switch the key; this page follows it.`,
    "handed-over": `${offer.to.name} holds the key.`,
    declined: `${offer.to.name} declined it${offer.words ? `: ${offer.words}` : "."}`,
    lapsed: `Nobody answered through ${onDate(offer.through)}, so it lapsed. Nothing has changed.`,
    withdrawn: "It was taken back. Nothing has changed.",
    void: "It came to nothing: the site was put away, or the key can no longer be taken.",
    "not-done": `${offer.host} refused to switch the key: ${offer.words ?? ""}`,
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
  const accept = useDeed((fingerprint: string) =>
    api.POST("/api/offers/{offer}/countersign", {
      params: { path, header: newKey() },
      body: { fingerprint, link: link ?? null, reason: null },
    }),
  );
  const decline = useDeed(() =>
    api.POST("/api/offers/{offer}/decline", {
      params: { path, header: newKey() },
      body: { reason: reason || null, link: link ?? null },
    }),
  );
  const plan = offer.plan;
  return (
    <section className="mt-5" aria-label="Your answer">
      <p>
        Whoever holds the key answers for the site: who may read and edit it, and how long it is kept. A countersigned
        handover cannot be undone; you could offer the key on.
      </p>
      {plan && (
        <div className="mt-4 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">What accepting comes to</h2>
          <EffectList plan={plan} />
        </div>
      )}
      <Refused title="You cannot accept it" reasons={offer.refused} />
      <DeedFault error={accept.error ?? decline.error} />
      {isDeclining && <Reason value={reason} onChange={setReason} />}
      <div className="mt-4 flex flex-wrap gap-2">
        {plan && !isDeclining && (
          <Button
            look="deed"
            className="py-2"
            disabled={accept.isPending}
            onClick={() => accept.mutate(plan.fingerprint)}
          >
            Accept the key
          </Button>
        )}
        {isDeclining ? (
          <>
            <Button look="deed" className="py-2" disabled={decline.isPending} onClick={() => decline.mutate()}>
              Decline it
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

function TakeBack({ offer }: { offer: Offer }) {
  const path = { offer: offer.id };
  const withdraw = useDeed(() =>
    api.POST("/api/offers/{offer}/withdraw", {
      params: { path, header: newKey() },
      body: { reason: null, link: null },
    }),
  );
  return (
    <div className="mt-4">
      <DeedFault error={withdraw.error} />
      <Button disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
        Take the offer back
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
      {offer.remains.length > 0 && (
        <>
          <h3 className="mt-3 font-text text-[14px] font-bold">What the former owner keeps</h3>
          <ul className="mt-1 list-disc pl-5 text-ochre">
            {offer.remains.map((line) => (
              <li key={line}>
                <bdi>{line}</bdi>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-3">
        <Link to="/yours" className="underline">
          To your sites
        </Link>
      </p>
    </section>
  );
}
