import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { onDate } from "../ui/words";

type Explained = Schema["Explained"];

/** The dated exceptions from one rule: those in force, ending one, and granting a new one where the rule is broken or cannot tell. */
export function Exceptions({
  site,
  explained,
  mayException,
}: {
  site: number;
  explained: Explained;
  mayException: boolean;
}) {
  const [isOpen, setOpen] = useState(false);
  const mayGive = mayException && !explained.isExcepted;
  return (
    <>
      {explained.exceptions.map((exception) => (
        <Given key={exception.id} site={site} exception={exception} mayEnd={mayException} />
      ))}
      {mayGive &&
        (isOpen ? (
          <ExceptionForm site={site} finding={explained.finding} onEnd={() => setOpen(false)} />
        ) : (
          <button type="button" className="mt-1 min-h-6 text-[13px] underline" onClick={() => setOpen(true)}>
            Grant an exception … <span className="sr-only">({explained.finding.rule})</span>
          </button>
        ))}
    </>
  );
}

function Given({ site, exception, mayEnd }: { site: number; exception: Schema["ExceptionInForce"]; mayEnd: boolean }) {
  const [reason, setReason] = useState<string | null>(null);
  const end = useAction(() =>
    api.POST("/api/sites/{site}/exceptions/{exception}/end", {
      params: { path: { site, exception: exception.id } },
      body: { reason: reason ?? "" },
    }),
  );
  return (
    <div className="mt-1 text-[13px]">
      <p>
        Exception until the end of {onDate(exception.through)} by {exception.by.name}: <bdi>{exception.reason}</bdi>
        {!exception.covers && (
          <strong className="block text-ochre">
            It no longer applies:{" "}
            {exception.isUntold
              ? "it was granted because the rule could not tell."
              : "the site is further from the rule than when the exception was granted."}
          </strong>
        )}
      </p>
      {mayEnd && reason === null && (
        <button type="button" className="min-h-6 underline" onClick={() => setReason("")}>
          End the exception …
        </button>
      )}
      {reason !== null && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            end.mutate(undefined);
          }}
        >
          <Field
            label="Reason for ending it now"
            required
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <ActionFault error={end.error} />
          <div className="mt-2 flex gap-1.5">
            <Button type="submit" look="primary" disabled={end.isPending}>
              End the exception
            </Button>
            <Button onClick={() => setReason(null)}>Cancel</Button>
          </div>
        </form>
      )}
    </div>
  );
}

function ExceptionForm(props: { site: number; finding: Schema["Finding"]; onEnd: () => void }) {
  const { site, onEnd } = props;
  const { rule, cannotTell } = props.finding;
  const [reason, setReason] = useState("");
  const [through, setThrough] = useState("");
  const path = { site };
  const request = { rule, reason, through };
  const plan = useQuery({
    queryKey: ["exception", site, request],
    queryFn: () => ok(api.POST("/api/sites/{site}/exceptions/plan", { params: { path }, body: request })),
    enabled: reason.trim() !== "" && through !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const grant = useAction(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/exceptions", {
        params: { path },
        body: { ...request, fingerprint },
      }),
    onEnd,
  );
  const planned = plan.data?.plan;
  return (
    <form
      className="text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) grant.mutate(planned.fingerprint);
      }}
    >
      <Field
        label={
          cannotTell ? `Reason why ${rule} need not be able to tell` : `Reason why it may break ${rule} for a while`
        }
        required
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Field
        label="Last day"
        type="date"
        required
        value={through}
        onChange={(event) => setThrough(event.target.value)}
      />
      {planned?.sideEffects.map((sentence) => (
        <p key={sentence} className="mt-2">
          {sentence}
        </p>
      ))}
      {plan.data && <Refused title="The exception cannot be granted like this" reasons={plan.data.refused} />}
      <ActionFault error={plan.error ?? grant.error} />
      <div className="mt-3 flex gap-1.5">
        <Button type="submit" look="primary" disabled={!planned || plan.isPlaceholderData || grant.isPending}>
          Grant the exception
        </Button>
        <Button onClick={onEnd}>Cancel</Button>
      </div>
    </form>
  );
}
