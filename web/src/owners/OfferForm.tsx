import { RadioGroup } from "../ui/RadioGroup";
import { Select } from "../ui/Select";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useRouter } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { NoMail } from "../actions/NoMail";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { EffectList } from "../actions/EffectList";
import { Candidates } from "./Candidates";

type Holder = Schema["SiteOwner"];

/** Offers the ownership of a site to a person: instead of an owner, or in addition to those it has.
 *
 * `adds`: nobody stops being an owner. `currentOwners`: those who can be replaced; where it adds one, only the viewer.
 */
export function OfferForm(props: { site: number; currentOwners: Holder[]; isOwn: boolean; adds?: boolean }) {
  const { site, currentOwners, isOwn, adds = false } = props;
  const navigate = useNavigate();
  const router = useRouter();
  const [to, setTo] = useState<Schema["Person"] | null>(null);
  const [currentOwner, setCurrentOwner] = useState(currentOwners[0]?.person.id ?? null);
  const [after, setAfter] = useState<Schema["CurrentOwnerAfter"]>(adds ? "owns" : "leaves");
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
  // Who has left cannot stay.
  const hasLeft = currentOwners.find(({ person }) => person.id === currentOwner)?.hasLeft ?? false;
  const planned = plan.data?.plan;
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) offer.mutate(planned.fingerprint);
      }}
    >
      <NoMail />
      <p className="mb-3 border-l-[3px] border-slate pl-3">
        {whatItDoes({ isOwn, adds, hasOwner: currentOwners.length > 0 })}
      </p>
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
      {!adds && currentOwners.length > 0 && (
        <fieldset className="mt-5">
          <legend className="font-semibold">{isOwn ? "What you keep" : "What the former owner keeps"}</legend>
          <RadioGroup
            value={after}
            choices={[
              { value: "leaves", shown: isOwn ? "I leave: I keep no access by name" : "Keeps no access by name" },
              ...(hasLeft
                ? []
                : [{ value: "stays" as const, shown: isOwn ? "I stay as an editor" : "Stays as an editor" }]),
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
              : adds
                ? `Ask ${to.name} to become an owner`
                : `Offer it to ${to.name}`}
        </Button>
        <Button className="py-2" onClick={() => router.history.back()}>
          Cancel
        </Button>
      </div>
    </form>
  );
}

function whatItDoes({ isOwn, adds, hasOwner }: { isOwn: boolean; adds: boolean; hasOwner: boolean }): string {
  if (adds)
    return isOwn
      ? "You stay an owner. The person becomes one as soon as they accept."
      : "Those who own the site stay owners, and the active ones are told by mail. Where none is active, a second administrator has to agree.";
  if (isOwn) return "You hand over your own ownership. Nothing changes before the person accepts.";
  return hasOwner
    ? "Its owner is not active and cannot offer it. You offer it in their place, with a reason. A second administrator has to agree."
    : "No person owns this site by name. You assign an owner, with a reason. A second administrator has to agree.";
}
