import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { onDate } from "../ui/words";

/** The holds on a site, which keep it from being erased: release one, or place a new one. */
export function Holds({ site, holds, mayHold }: { site: number; holds: Schema["Hold"][]; mayHold: boolean }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      {holds.map((hold) => (
        <HeldBy key={hold.id} site={site} hold={hold} mayHold={mayHold} />
      ))}
      {mayHold &&
        (isOpen ? (
          <HoldForm site={site} onEnd={() => setOpen(false)} />
        ) : (
          <Button className="mt-3" onClick={() => setOpen(true)}>
            Hold …
          </Button>
        ))}
    </>
  );
}

function HeldBy({ site, hold, mayHold }: { site: number; hold: Schema["Hold"]; mayHold: boolean }) {
  const [reason, setReason] = useState<string | null>(null);
  const path = { site, hold: hold.id };
  const release = useAction(() =>
    api.POST("/api/sites/{site}/holds/{hold}/release", {
      params: { path },
      body: { reason: reason ?? "" },
    }),
  );
  return (
    <section className="mt-4 border-l-[3px] border-slate pl-3 text-[13px]">
      <h3 className="font-text text-[14.5px] font-bold">
        Held {hold.through ? `through ${onDate(hold.through)}` : "until it is released"}
      </h3>
      <p>
        <bdi>{hold.reason}</bdi> <span className="text-second">by {hold.by.name}</span>
      </p>
      {mayHold && reason === null && (
        <Button className="mt-2" onClick={() => setReason("")}>
          Release it …
        </Button>
      )}
      {reason !== null && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            release.mutate();
          }}
        >
          <Field
            label="Reason for the release"
            required
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            hint="After the release at least 7 days remain before the site is erased."
          />
          <ActionFault error={release.error} />
          <Button type="submit" look="primary" className="mt-2" disabled={release.isPending}>
            Release the hold
          </Button>
        </form>
      )}
    </section>
  );
}

function HoldForm({ site, onEnd }: { site: number; onEnd: () => void }) {
  const [reason, setReason] = useState("");
  const [through, setThrough] = useState("");
  const path = { site };
  const request = { reason, through: through || null };
  const plan = useQuery({
    queryKey: ["hold", site, request],
    queryFn: () => ok(api.POST("/api/sites/{site}/hold/plan", { params: { path }, body: request })),
    enabled: reason.trim() !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const place = useAction(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/hold", { params: { path }, body: { ...request, fingerprint } }),
    onEnd,
  );
  const planned = plan.data?.plan;
  return (
    <form
      className="mt-4 border-l-[3px] border-slate pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) place.mutate(planned.fingerprint);
      }}
    >
      <h3 className="font-text text-[14.5px] font-bold">A hold</h3>
      <Field
        label="Reason why it must not be erased"
        required
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Field
        label="Until the end of (empty: until somebody releases it)"
        type="date"
        value={through}
        onChange={(event) => setThrough(event.target.value)}
      />
      {planned?.sideEffects.map((sentence) => (
        <p key={sentence} className="mt-2 text-[13px]">
          {sentence}
        </p>
      ))}
      {plan.data && reason !== "" && (
        <Refused title="The hold cannot be placed like this" reasons={plan.data.refused} />
      )}
      <ActionFault error={place.error} />
      <div className="mt-3 flex gap-1.5">
        <Button type="submit" look="primary" disabled={!planned || place.isPending}>
          Place the hold
        </Button>
        <Button onClick={onEnd}>Cancel</Button>
      </div>
    </form>
  );
}
