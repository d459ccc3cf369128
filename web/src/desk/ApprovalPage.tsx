import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { Loss } from "../attic/Loss";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Reason } from "../ledger/Field";
import { Sheet, Waiting } from "../ledger/Sheet";
import { onDate, onDay } from "../ledger/words";
import { EffectList } from "../margin/EffectList";

export const deedNames: Record<string, string> = {
  "site.put-away": "Put away",
  "key.offer": "Give a key in another's place",
};

const words: Record<Wire["ApprovalState"], string> = {
  asked: "It waits for a second person.",
  given: "A second person agreed; it is done.",
  "turned-down": "A second person did not agree. Nothing has changed.",
  withdrawn: "It was withdrawn. Nothing has changed.",
  lapsed: "Nobody answered in time; it lapsed. Nothing has changed.",
  void: "It can no longer be done on today's facts. Nothing has changed.",
};

/** A deed that waits for a second person: who asks, why, what it would come to today, and the answer. */
export function ApprovalPage() {
  const { approval: id } = useParams({ from: "/books/approvals/$approval" });
  const path = { approval: id };
  const approval = useQuery({
    queryKey: ["approval", id],
    queryFn: () => ok(api.GET("/api/approvals/{approval}", { params: { path } })),
  });
  if (!approval.data) return <Waiting title="A second person" error={approval.error} />;
  const { title, deed, by, because, reason, askedAt, through, renewed, state, plan, refused } = approval.data;
  return (
    <Sheet
      title={`${deedNames[deed] ?? deed}: ${title}`}
      lead={<span className="font-address text-[13px] break-all">{approval.data.address ?? "no address"}</span>}
    >
      <p className="mt-3">
        {by.name} asked for it on {onDay(askedAt)}. {because}
      </p>
      {reason && <p className="text-second">“{reason}”</p>}
      <p role="status" className="mt-3 font-semibold">
        {words[state]} {state === "asked" && `It lapses after ${onDate(through)}.`}
      </p>
      {state === "asked" && renewed > 0 && (
        <p className="mt-2 border-l-[3px] border-ochre bg-ochre-pale px-2 py-1">
          The facts have changed since it was first asked, so it is asked anew. This is what it comes to now.
        </p>
      )}
      {state === "asked" && plan?.loss && <Loss plan={plan} host={approval.data.host} />}
      {state === "asked" && plan && !plan.loss && (
        <section className="mt-4 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">What it comes to today</h2>
          <EffectList plan={plan} />
        </section>
      )}
      {state === "asked" && <Refused title="It can no longer be done" reasons={refused} />}
      {(approval.data.mayAnswer || approval.data.mayWithdraw) && <Answer approval={approval.data} />}
      <p className="mt-6">
        <Link to="/desk" className="underline">
          To the desk
        </Link>
      </p>
    </Sheet>
  );
}

function Answer({ approval }: { approval: Wire["ApprovalWire"] }) {
  const [reason, setReason] = useState("");
  const path = { approval: approval.id };
  const give = useDeed((fingerprint: string) =>
    api.POST("/api/approvals/{approval}/give", { params: { path }, body: { fingerprint } }),
  );
  const turnDown = useDeed(() =>
    api.POST("/api/approvals/{approval}/turn-down", { params: { path }, body: { reason: reason || null } }),
  );
  const withdraw = useDeed(() => api.POST("/api/approvals/{approval}/withdraw", { params: { path } }));
  const plan = approval.plan;
  return (
    <section className="mt-4" aria-label="Your answer">
      {approval.mayWithdraw && (
        <p>You asked for it yourself, so another administrator has to answer. You can withdraw it.</p>
      )}
      {approval.mayAnswer && <Reason value={reason} onChange={setReason} />}
      <DeedFault error={give.error ?? turnDown.error ?? withdraw.error} />
      <div className="mt-4 flex flex-wrap gap-2">
        {approval.mayAnswer && plan && (
          <Button look="deed" className="py-2" disabled={give.isPending} onClick={() => give.mutate(plan.fingerprint)}>
            Agree: do it
          </Button>
        )}
        {approval.mayAnswer && (
          <Button className="py-2" disabled={turnDown.isPending} onClick={() => turnDown.mutate()}>
            Do not agree
          </Button>
        )}
        {approval.mayWithdraw && (
          <Button className="py-2" disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
            Withdraw it
          </Button>
        )}
      </div>
    </section>
  );
}
