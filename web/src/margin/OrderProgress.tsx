import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { ago, atMinute, atSecond, listed, onDay } from "../ledger/words";
import { EffectList, powerWord } from "./EffectList";

type Order = Wire["OrderWire"];

const ended: Partial<Record<Order["state"], string>> = {
  refused: "refused",
  withdrawn: "withdrawn before it was sent",
  superseded: "superseded by a later order",
  "given-up": "given up after many tries",
  contradicted: "confirmed, but a later read shows something else",
};

/** Asked is not done, and done is not seen: three different facts, shown as such. */
export function OrderProgress(props: { orders: Order[]; site: number; mayAct: boolean; host: string }) {
  const [all, setAll] = useState(false);
  const shown = all ? props.orders : props.orders.slice(0, 1);
  if (props.orders.length === 0) return null;
  return (
    <section className="mt-5 border-t border-rule pt-3" aria-label={`Asked of ${props.host}`}>
      <h3 className="font-text text-[14px] font-bold">Asked of {props.host}</h3>
      <ul>
        {shown.map((order, place) => (
          <OrderItem key={order.id} order={order} mayUndo={props.mayAct && order.canUndo && place === 0} />
        ))}
      </ul>
      {props.orders.length > 1 && (
        <button type="button" className="mt-1 text-[13px] underline" onClick={() => setAll(!all)}>
          {all ? "Only the latest" : `${props.orders.length - 1} earlier`}
        </button>
      )}
    </section>
  );
}

const purposes = { reach: "", key: "Key handed over", "put-away": "Put away", "bring-back": "Brought back" };

function OrderItem({ order, mayUndo }: { order: Order; mayUndo: boolean }) {
  const end = ended[order.state];
  return (
    <li className="mt-1.5 text-[13px]">
      <p>
        {[
          ...(purposes[order.purpose] ? [purposes[order.purpose]] : []),
          ...(order.changes.length > 0
            ? [listed(order.changes.map((change) => `${change.who}: ${powerWord(change.to)}`))]
            : []),
        ].join("; ")}
        <span className="text-second">
          {" "}
          by {order.by.name}, {ago(order.askedAt)}
          {order.undoOf ? ", to undo an earlier order" : ""}
        </span>
      </p>
      {order.reason && <p className="text-second">“{order.reason}”</p>}
      <ol className="mt-1 flex flex-wrap gap-1" aria-label="How far it has come">
        <Stage name="asked" at={order.askedAt} />
        <Stage name={order.with ? "given" : "sent"} at={order.sentAt} />
        {end ? <Ended words={end} /> : <Stage name={order.with ? "said done" : "confirmed"} at={order.confirmedAt} />}
        {!end && <Stage name="seen" at={order.seenAt} />}
      </ol>
      {order.with && (
        <p className={clsx("mt-1", order.isOverdue ? "text-madder" : "text-second")} role="status">
          {order.state === "sent"
            ? `${order.with.name} has it to do by hand${order.isOverdue ? "; overdue since" : ", by"} the end of ${lastDay(order.dueAt)}. `
            : "Done by hand. "}
          <Link to="/by-hand/$order" params={{ order: order.id }} className="underline">
            Look at it
          </Link>
        </p>
      )}
      {!order.with && (order.state === "sent" || order.state === "asked") && (
        <p className={clsx("mt-1", order.isOverdue ? "text-madder" : "text-second")} role="status">
          {order.isOverdue ? `Overdue since ${atMinute(order.dueAt)}. ` : ""}
          {order.attempts > 1
            ? `Tried ${order.attempts} times; tried again by itself. `
            : "Usually confirmed within seconds. "}
          {order.words ? `Last said: ${order.words}` : ""}
        </p>
      )}
      {order.state === "refused" && order.words && (
        <p className="mt-1 text-madder">
          {order.with?.name ?? "The host"} said: {order.words}
        </p>
      )}
      {mayUndo && <Undo order={order} />}
    </li>
  );
}

// Days end at midnight; what is due then is due by the end of the day before.
const lastDay = (dueAt: string) => onDay(new Date(Date.parse(dueAt) - 1).toISOString());

function Stage({ name, at }: { name: string; at: string | null }) {
  return (
    <li
      className={clsx(
        "rounded-[3px] px-1.5 py-0.5 text-[12px] font-semibold",
        at ? "bg-moss-pale text-moss" : "border border-dashed border-rule-strong text-second",
      )}
      title={at ?? undefined}
    >
      {at ? `${name} ${atSecond(at)}` : `not yet ${name}`}
    </li>
  );
}

function Ended({ words }: { words: string }) {
  return <li className="rounded-[3px] bg-ochre-pale px-1.5 py-0.5 text-[12px] font-semibold text-ochre">{words}</li>;
}

/** Undoing is a new deed, decided on today's facts: first what it comes to, then the deed. */
function Undo({ order }: { order: Order }) {
  const queries = useQueryClient();
  const [isOpen, setOpen] = useState(false);
  const path = { order: order.id };
  const plan = useQuery({
    queryKey: ["undo", order.id],
    queryFn: () => ok(api.POST("/api/orders/{order}/undo/plan", { params: { path } })),
    enabled: isOpen,
    retry: false,
  });
  const undo = useMutation({
    mutationFn: (fingerprint: string) =>
      ok(
        api.POST("/api/orders/{order}/undo", {
          params: { path, header: { "Idempotency-Key": crypto.randomUUID() } },
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
      <p className="font-bold">Undoing comes to this</p>
      {planned && <EffectList plan={planned} />}
      {plan.data && <p className="text-second">{plan.data.refused.join(" ")}</p>}
      {plan.error && <p className="text-madder">{plan.error.message}</p>}
      {undo.error && (
        <p role="alert" className="text-madder">
          Something has changed since you looked, so nothing was done.
        </p>
      )}
      <div className="mt-2 flex gap-1.5">
        {planned && (
          <Button
            look="deed"
            disabled={undo.isPending || plan.isFetching}
            onClick={() => undo.mutate(planned.fingerprint)}
          >
            {order.state === "asked" ? "Withdraw it" : "Ask for what was before"}
          </Button>
        )}
        <Button onClick={() => setOpen(false)}>Leave it</Button>
      </div>
    </div>
  );
}
