import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Field, Reason } from "../ledger/Field";
import { Sheet, Waiting } from "../ledger/Sheet";
import { EffectList } from "../margin/EffectList";
import { useFolio } from "../margin/Margin";
import { useMe } from "../api/useMe";
import { Candidates } from "./Candidates";

type Holder = Wire["KeyHolderWire"];

/** Offering a key: one's own, or that of somebody who is gone. */
export function HandOverPage() {
  const { site } = useParams({ from: "/books/sites/$site/hand-over" });
  const folio = useFolio(Number(site));
  const me = useMe();
  if (!folio.data || !me) return <Waiting title="Hand over a key" error={folio.error} />;
  const named = folio.data.keyHolders.filter((holder) => holder.through === null);
  const own = named.find((holder) => holder.person.mail === me.mail);
  const gone = named.filter((holder) => holder.isGone);
  const givers = own ? [own] : gone;
  return (
    <Sheet
      title={`Hand over the key of ${folio.data.line.title}`}
      lead={<span className="font-address text-[13px] break-all">{folio.data.line.address}</span>}
    >
      {folio.data.noHandOver ? (
        <Refused title="Not from here" reasons={[folio.data.noHandOver]} />
      ) : givers.length === 0 && named.length > 0 && me.role !== "owner" ? (
        <AskThem site={folio.data.line.id} holders={named} />
      ) : (
        <OfferForm site={folio.data.line.id} givers={givers} isOwn={own !== undefined} />
      )}
    </Sheet>
  );
}

function OfferForm({ site, givers, isOwn }: { site: number; givers: Holder[]; isOwn: boolean }) {
  const navigate = useNavigate();
  const [to, setTo] = useState<Wire["PersonWire"] | null>(null);
  const [giver, setGiver] = useState(givers[0]?.person.id ?? null);
  const [after, setAfter] = useState<Wire["GiverAfter"]>("leaves");
  const [reason, setReason] = useState("");
  const [password, setPassword] = useState("");
  const path = { site };
  const wish = { to: to?.id ?? 0, giver, after, reason: reason || null };
  const plan = useQuery({
    queryKey: ["offer plan", site, wish],
    queryFn: () => ok(api.POST("/api/sites/{site}/offer/plan", { params: { path }, body: wish })),
    enabled: to !== null,
    placeholderData: (before) => before,
    retry: false,
  });
  const offer = useDeed(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/offer", {
        params: { path, header: newKey() },
        body: { ...wish, password, fingerprint },
      }),
    (done) =>
      done.approval
        ? navigate({ to: "/approvals/$approval", params: { approval: done.approval } })
        : navigate({ to: "/offers/$offer", params: { offer: done.offer ?? "" } }),
  );
  const planned = plan.data?.plan;
  const needsReason = plan.data?.refused.some((refusal) => refusal.includes("needs a reason")) ?? false;
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
          {givers.length > 0
            ? "Its holder is gone and cannot offer it. You give it in their place, with a reason; a second administrator has to agree."
            : "Nobody holds this key by name. You give it with a reason; a second administrator has to agree."}
        </p>
      )}
      {givers.length > 1 && (
        <label className="mb-3 block font-semibold">
          Whose key
          <select
            value={giver ?? ""}
            onChange={(event) => setGiver(Number(event.target.value))}
            className="mt-1 block rounded-[4px] border border-rule-strong bg-sheet px-2 py-1.5 font-normal"
          >
            {givers.map((one) => (
              <option key={one.person.id} value={one.person.id}>
                {one.person.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <Candidates site={site} chosen={to?.id ?? null} onChoose={setTo} />
      {givers.length > 0 && (
        <fieldset className="mt-5">
          <legend className="font-semibold">{isOwn ? "And you?" : "And the former holder?"}</legend>
          {(
            [
              ["leaves", isOwn ? "I leave: I keep nothing by name" : "Keeps nothing by name"],
              ["stays", isOwn ? "I stay on as an editor" : "Stays on as an editor"],
            ] as const
          ).map(([value, words]) => (
            <label key={value} className="mt-1 flex cursor-pointer items-center gap-2 py-0.5">
              <input
                type="radio"
                name="after"
                className="size-4 accent-[var(--cover)]"
                checked={after === value}
                onChange={() => setAfter(value)}
              />
              {words}
            </label>
          ))}
        </fieldset>
      )}
      <Reason value={reason} onChange={setReason} isNeeded={!isOwn} />
      {to && planned && (
        <section className="mt-5 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">What it comes to, once {to.name} has accepted</h2>
          <EffectList plan={planned} />
        </section>
      )}
      {to && plan.data && <Refused title="It cannot be offered like this" reasons={plan.data.refused} />}
      {plan.error && <p className="mt-2 text-madder">{plan.error.message}</p>}
      <Field
        label="Your password, to confirm that it is you"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      <DeedFault error={offer.error} />
      <div className="mt-4 flex flex-wrap gap-2">
        <Button
          look="deed"
          type="submit"
          className="py-2"
          disabled={!planned || password === "" || offer.isPending || needsReason}
        >
          {!to
            ? "Choose somebody first"
            : planned?.needsSecond
              ? `Ask a second person to give it to ${to.name}`
              : `Offer it to ${to.name}`}
        </Button>
        <Link to="/yours" className="self-center underline">
          Leave it
        </Link>
      </div>
    </form>
  );
}

/** Its owners are still here: only they can offer it, so they are asked. */
function AskThem({ site, holders }: { site: number; holders: Holder[] }) {
  const [reason, setReason] = useState("");
  const path = { site };
  const plan = useQuery({
    queryKey: ["ask owners", site],
    queryFn: () => ok(api.POST("/api/sites/{site}/ask-owners/plan", { params: { path } })),
    retry: false,
  });
  const ask = useDeed((fingerprint: string) =>
    api.POST("/api/sites/{site}/ask-owners", {
      params: { path, header: newKey() },
      body: { fingerprint, reason: reason || null },
    }),
  );
  const planned = plan.data?.plan;
  return (
    <div className="mt-4">
      <p>
        {holders.map((holder) => holder.person.name).join(" and ")} {holders.length > 1 ? "hold" : "holds"} the key and{" "}
        {holders.length > 1 ? "are" : "is"} still here. Only who holds a key can offer it.
      </p>
      {planned && (
        <>
          <ul className="mt-3 list-disc pl-5">
            {planned.along.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
          <Reason value={reason} onChange={setReason} />
        </>
      )}
      {plan.data && <Refused title="There is nobody to ask" reasons={plan.data.refused} />}
      <DeedFault error={ask.error} />
      {ask.isSuccess ? (
        <p role="status" className="mt-4 text-moss">
          They are asked. The mail goes out now.
        </p>
      ) : (
        planned && (
          <Button
            look="deed"
            className="mt-4 py-2"
            disabled={ask.isPending}
            onClick={() => ask.mutate(planned.fingerprint)}
          >
            Ask by mail
          </Button>
        )
      )}
    </div>
  );
}
