import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";
import { onDate } from "../ledger/words";

type Explained = Wire["ExplainedWire"];

/** The dated exceptions from one rule: those in force, ending one, and a new one where the rule is broken. */
export function Excuses({ site, explained, mayExcuse }: { site: number; explained: Explained; mayExcuse: boolean }) {
  const [isOpen, setOpen] = useState(false);
  const mayGive = mayExcuse && !explained.isExcused && !explained.finding.cannotTell;
  return (
    <>
      {explained.excuses.map((excuse) => (
        <Given key={excuse.id} site={site} excuse={excuse} mayEnd={mayExcuse} />
      ))}
      {mayGive &&
        (isOpen ? (
          <ExcuseForm site={site} rule={explained.finding.rule} onEnd={() => setOpen(false)} />
        ) : (
          <button type="button" className="mt-1 min-h-6 text-[13px] underline" onClick={() => setOpen(true)}>
            Excuse it … <span className="sr-only">({explained.finding.rule})</span>
          </button>
        ))}
    </>
  );
}

function Given({ site, excuse, mayEnd }: { site: number; excuse: Wire["ExcuseWire"]; mayEnd: boolean }) {
  const [reason, setReason] = useState<string | null>(null);
  const end = useDeed(() =>
    api.POST("/api/sites/{site}/excuses/{excuse}/end", {
      params: { path: { site, excuse: excuse.id }, header: newKey() },
      body: { reason: reason ?? "" },
    }),
  );
  return (
    <div className="mt-1 text-[13px]">
      <p>
        Excused through {onDate(excuse.through)} by {excuse.by.name}: <bdi>{excuse.reason}</bdi>
        {!excuse.covers && (
          <strong className="block text-ochre">It no longer counts: the site stands worse than it was excused.</strong>
        )}
      </p>
      {mayEnd && reason === null && (
        <button type="button" className="min-h-6 underline" onClick={() => setReason("")}>
          End the excuse …
        </button>
      )}
      {reason !== null && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            end.mutate(undefined);
          }}
        >
          <Field label="Why it ends now" required value={reason} onChange={(event) => setReason(event.target.value)} />
          <DeedFault error={end.error} />
          <div className="mt-2 flex gap-1.5">
            <Button type="submit" look="deed" disabled={end.isPending}>
              End the excuse
            </Button>
            <Button onClick={() => setReason(null)}>Leave it</Button>
          </div>
        </form>
      )}
    </div>
  );
}

function ExcuseForm({ site, rule, onEnd }: { site: number; rule: string; onEnd: () => void }) {
  const [reason, setReason] = useState("");
  const [through, setThrough] = useState("");
  const path = { site };
  const wish = { rule, reason, through };
  const plan = useQuery({
    queryKey: ["excuse", site, wish],
    queryFn: () => ok(api.POST("/api/sites/{site}/excuse/plan", { params: { path }, body: wish })),
    enabled: reason.trim() !== "" && through !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const give = useDeed(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/excuse", { params: { path, header: newKey() }, body: { ...wish, fingerprint } }),
    onEnd,
  );
  const planned = plan.data?.plan;
  return (
    <form
      className="text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) give.mutate(planned.fingerprint);
      }}
    >
      <Field
        label={`Why it may break ${rule} for a while`}
        required
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Field
        label="Through (the last day)"
        type="date"
        required
        value={through}
        onChange={(event) => setThrough(event.target.value)}
      />
      {planned?.along.map((sentence) => (
        <p key={sentence} className="mt-2">
          {sentence}
        </p>
      ))}
      {plan.data && <Refused title="It cannot be excused like this" reasons={plan.data.refused} />}
      <DeedFault error={plan.error ?? give.error} />
      <div className="mt-3 flex gap-1.5">
        <Button type="submit" look="deed" disabled={!planned || plan.isPlaceholderData || give.isPending}>
          Excuse it
        </Button>
        <Button onClick={onEnd}>Leave it</Button>
      </div>
    </form>
  );
}
