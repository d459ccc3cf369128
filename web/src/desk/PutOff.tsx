import { useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";

/** Takes a decision off the desk until the end of a day, with a reason: one group, or those of several people. */
export function PutOff({ groups, title }: { groups: Schema["Group"][]; title: string }) {
  const [isOpen, setOpen] = useState(false);
  const [through, setThrough] = useState("");
  const [reason, setReason] = useState("");
  const decisions = groups.map(({ clause }) => clause);
  const putOff = useAction(() => api.POST("/api/desk/put-off", { body: { decisions, through, reason } }));
  if (!isOpen)
    return (
      <button type="button" className="min-h-6 text-[13px] underline" data-does="put-off" onClick={() => setOpen(true)}>
        Put off … <span className="sr-only">({title})</span>
      </button>
    );
  return (
    <form
      aria-label="Put the decision off"
      className="w-[300px] text-[13px] text-ink"
      onSubmit={(event) => {
        event.preventDefault();
        putOff.mutate();
      }}
    >
      <Field
        label="Until the end of"
        type="date"
        required
        value={through}
        onChange={(event) => setThrough(event.target.value)}
        hint="At most 90 days. It comes back earlier if it concerns another site."
      />
      <Reason value={reason} onChange={setReason} isNeeded />
      <ActionFault error={putOff.error} />
      <div className="mt-2 flex gap-1.5">
        <Button type="submit" look="primary" disabled={putOff.isPending || through === "" || reason.trim() === ""}>
          Put it off
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </form>
  );
}

export function TakeUp({ decision, title }: { decision: string; title: string }) {
  const takeUp = useAction(() => api.POST("/api/desk/take-up", { body: { decision } }));
  return (
    <>
      <button type="button" className="min-h-6 underline" disabled={takeUp.isPending} onClick={() => takeUp.mutate()}>
        Put it back on the desk <span className="sr-only">({title})</span>
      </button>
      <ActionFault error={takeUp.error} />
    </>
  );
}
