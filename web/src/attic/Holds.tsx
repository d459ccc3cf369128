import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";
import { onDate } from "../ledger/words";

/** Orders not to clear a site: those that hold, their release, and a new one. */
export function Holds({ site, holds, mayHold }: { site: number; holds: Wire["HoldWire"][]; mayHold: boolean }) {
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

function HeldBy({ site, hold, mayHold }: { site: number; hold: Wire["HoldWire"]; mayHold: boolean }) {
  const [reason, setReason] = useState<string | null>(null);
  const path = { site, hold: hold.id };
  const release = useDeed(() =>
    api.POST("/api/sites/{site}/holds/{hold}/release", {
      params: { path, header: newKey() },
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
            label="Why it is released"
            required
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            hint="At least seven days are left afterwards."
          />
          <DeedFault error={release.error} />
          <Button type="submit" look="deed" className="mt-2" disabled={release.isPending}>
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
  const wish = { reason, through: through || null };
  const plan = useQuery({
    queryKey: ["hold", site, wish],
    queryFn: () => ok(api.POST("/api/sites/{site}/hold/plan", { params: { path }, body: wish })),
    enabled: reason.trim() !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const place = useDeed(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/hold", { params: { path, header: newKey() }, body: { ...wish, fingerprint } }),
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
        label="Why it must not be cleared"
        required
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Field
        label="Through (empty: until it is released)"
        type="date"
        value={through}
        onChange={(event) => setThrough(event.target.value)}
      />
      {planned?.along.map((sentence) => (
        <p key={sentence} className="mt-2 text-[13px]">
          {sentence}
        </p>
      ))}
      {plan.data && reason !== "" && <Refused title="It cannot be held like this" reasons={plan.data.refused} />}
      <DeedFault error={place.error} />
      <div className="mt-3 flex gap-1.5">
        <Button type="submit" look="deed" disabled={!planned || place.isPending}>
          Place the hold
        </Button>
        <Button onClick={onEnd}>Leave it</Button>
      </div>
    </form>
  );
}
