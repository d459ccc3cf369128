import { Word } from "../words/Word";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { labels } from "../api/labels";
import { ago, atMinute, atSecond, capital, listed, onDay } from "../ui/words";
import { EffectList, powerLabel } from "../actions/EffectList";

type HostChange = Schema["HostChange"];

const ended: Partial<Record<HostChange["state"], string>> = {
  refused: "refused",
  withdrawn: "withdrawn before it was sent",
  superseded: "replaced by a later change",
  "given-up": "failed after many attempts",
  contradicted: "confirmed, but a later sync reports something else",
};

/** Queued, sent, confirmed and verified are four different facts, each shown with its instant. */
export function ChangeProgress(props: { hostChanges: HostChange[]; site: number; mayAct: boolean; host: string }) {
  const [all, setAll] = useState(false);
  const shown = all ? props.hostChanges : props.hostChanges.slice(0, 1);
  if (props.hostChanges.length === 0) return null;
  return (
    <section className="mt-5 border-t border-rule pt-3" aria-label={`Changes at ${props.host}`}>
      <h3 className="font-text text-[14px] font-bold">Changes at {props.host}</h3>
      <ul>
        {shown.map((hostChange, place) => (
          <HostChangeItem
            key={hostChange.id}
            hostChange={hostChange}
            mayUndo={props.mayAct && hostChange.canUndo && place === 0}
          />
        ))}
      </ul>
      {props.hostChanges.length > 1 && (
        <button type="button" className="mt-1 text-[13px] underline" onClick={() => setAll(!all)}>
          {all ? "Only the latest" : `${props.hostChanges.length - 1} earlier`}
        </button>
      )}
    </section>
  );
}

const purposes = {
  reach: "",
  owners: "Owner changed",
  "move-to-attic": "Moved to the attic",
  restore: "Restored",
  look: "",
  address: "",
};

function HostChangeItem({ hostChange, mayUndo }: { hostChange: HostChange; mayUndo: boolean }) {
  const end = ended[hostChange.state];
  return (
    <li className="mt-1.5 text-[13px]">
      <p>
        {[
          ...(purposes[hostChange.purpose] ? [purposes[hostChange.purpose]] : []),
          ...(hostChange.changes.length > 0
            ? [listed(hostChange.changes.map((change) => `${change.who}: ${powerLabel(change.to)}`))]
            : []),
          ...hostChange.fields.map(({ field, after }) => `${capital(labels.LookField[field])}: ${after ?? "none"}`),
        ].join("; ")}
        <span className="text-second">
          {" "}
          by {hostChange.by.name}, {ago(hostChange.requestedAt)}
          {hostChange.undoOf ? ", to undo an earlier change" : ""}
        </span>
      </p>
      {hostChange.reason && <p className="text-second">“{hostChange.reason}”</p>}
      <ol className="mt-1 flex flex-wrap gap-1" aria-label="Progress">
        <Status name="queued" at={hostChange.requestedAt} />
        <Status name={hostChange.with ? "assigned" : "sent"} at={hostChange.sentAt} />
        {end ? (
          <Ended words={end} />
        ) : (
          <Status name={hostChange.with ? "reported done" : "confirmed"} at={hostChange.confirmedAt} />
        )}
        {!end && <Status name="verified" at={hostChange.seenAt} />}
      </ol>
      {hostChange.with && (
        <p className={clsx("mt-1", hostChange.isOverdue ? "text-madder" : "text-second")} role="status">
          {hostChange.state === "sent"
            ? `${hostChange.with.name} has the manual task${hostChange.isOverdue ? "; overdue since" : ", due at"} the end of ${lastDay(hostChange.dueAt)}. `
            : "Done as a manual task. "}
          <Link to="/manual-tasks/$task" params={{ task: hostChange.id }} className="underline">
            See the task
          </Link>
        </p>
      )}
      {!hostChange.with && (hostChange.state === "sent" || hostChange.state === "queued") && (
        <p className={clsx("mt-1", hostChange.isOverdue ? "text-madder" : "text-second")} role="status">
          {hostChange.isOverdue ? `Overdue since ${atMinute(hostChange.dueAt)}. ` : ""}
          {hostChange.attempts > 1
            ? `Tried ${hostChange.attempts} times; the next attempt is automatic. `
            : "Hosts usually confirm within seconds. "}
          {hostChange.words ? `Last answer: ${hostChange.words}` : ""}
        </p>
      )}
      {hostChange.state === "refused" && hostChange.words && (
        <p className="mt-1 text-madder">
          {hostChange.with?.name ?? "The host"} said: {hostChange.words}
        </p>
      )}
      {mayUndo && <UndoChange id={hostChange.id} isQueued={hostChange.state === "queued"} />}
    </li>
  );
}

// A day ends at midnight: a change due then is due at the end of the day before.
const lastDay = (dueAt: string) => onDay(new Date(Date.parse(dueAt) - 1).toISOString());

const isDefined = (name: string) => ["queued", "sent", "confirmed", "verified"].includes(name);

function Status({ name, at }: { name: string; at: string | null }) {
  return (
    <li
      className={clsx(
        "rounded-[3px] px-1.5 py-0.5 text-[12px] font-semibold",
        at ? "bg-moss-pale text-moss" : "border border-dashed border-rule-strong text-second",
      )}
      title={at ?? undefined}
    >
      {at ? (
        <>
          {isDefined(name) ? <Word of={name} /> : name} {atSecond(at)}
        </>
      ) : (
        `not yet ${name}`
      )}
    </li>
  );
}

function Ended({ words }: { words: string }) {
  return <li className="rounded-[3px] bg-ochre-pale px-1.5 py-0.5 text-[12px] font-semibold text-ochre">{words}</li>;
}

/** Undoing is a new action on today's facts: first the plan, then the action. */
export function UndoChange({ id, isQueued }: { id: string; isQueued: boolean }) {
  const queries = useQueryClient();
  const [isOpen, setOpen] = useState(false);
  const path = { hostChange: id };
  const plan = useQuery({
    queryKey: ["undo", id],
    queryFn: () => ok(api.POST("/api/host-changes/{hostChange}/undo/plan", { params: { path } })),
    enabled: isOpen,
    retry: false,
  });
  const undo = useMutation({
    mutationFn: (fingerprint: string) =>
      ok(
        api.POST("/api/host-changes/{hostChange}/undo", {
          params: { path },
          body: { reason: null, fingerprint },
        }),
      ),
    onSuccess: () => setOpen(false),
    onSettled: () => queries.invalidateQueries(),
  });
  if (!isOpen) {
    return (
      <Button className="mt-2" onClick={() => setOpen(true)}>
        Undo …
      </Button>
    );
  }
  const planned = plan.data?.plan;
  return (
    <div className="mt-2 border-l-[3px] border-slate pl-3">
      <p className="font-bold">Effect of undoing it</p>
      {planned && <EffectList plan={planned} />}
      {plan.data && <p className="text-second">{plan.data.refused.map(({ sentence }) => sentence).join(" ")}</p>}
      {plan.error && <p className="text-madder">{plan.error.message}</p>}
      {undo.error && (
        <p role="alert" className="text-madder">
          Something has changed since you looked. Nothing was done.
        </p>
      )}
      <div className="mt-2 flex gap-1.5">
        {planned && (
          <Button
            look="primary"
            disabled={undo.isPending || plan.isFetching}
            onClick={() => undo.mutate(planned.fingerprint)}
          >
            {isQueued ? "Withdraw the change" : "Undo the change"}
          </Button>
        )}
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </div>
  );
}
