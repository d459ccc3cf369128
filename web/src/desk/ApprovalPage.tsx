import { Notice } from "../ui/Notice";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Loss } from "../attic/Loss";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { onDate, onDay } from "../ui/words";
import { EffectList } from "../actions/EffectList";

const words: Record<Schema["ApprovalState"], string> = {
  requested: "Waiting for a second person.",
  approved: "A second person agreed; it is done.",
  declined: "A second person did not agree. Nothing has changed.",
  withdrawn: "It was withdrawn. Nothing has changed.",
  lapsed: "Nobody answered in time, so it lapsed. Nothing has changed.",
  void: "It is no longer possible on today's facts. Nothing has changed.",
};

/** An action that waits for a second person: who asked, why, its effect on today's facts, and the answer. */
export function ApprovalPage() {
  const { approval: id } = useParams({ from: "/books/approvals/$approval" });
  const path = { approval: id };
  const approval = useQuery({
    queryKey: ["approval", id],
    queryFn: () => ok(api.GET("/api/approvals/{approval}", { params: { path } })),
  });
  if (!approval.data) return <Waiting title="A second person" error={approval.error} />;
  const { title, actionLabel, by, because, reason, requestedAt, through, renewed, state, plan, refused } =
    approval.data;
  return (
    <SidePanel
      title={`${actionLabel}: ${title}`}
      lead={<span className="font-address text-[13px] break-all">{approval.data.address ?? "no address"}</span>}
    >
      <p className="mt-3">
        {by.name} asked for it on {onDay(requestedAt)}. {because}
      </p>
      {reason && <p className="text-second">“{reason}”</p>}
      <p role="status" className="mt-3 font-semibold">
        {words[state]} {state === "requested" && `It lapses at the end of ${onDate(through)}.`}
      </p>
      {state === "requested" && renewed > 0 && (
        <Notice>The facts have changed since the request, so it asks again with this new plan.</Notice>
      )}
      {state === "requested" && plan?.loss && <Loss plan={plan} host={approval.data.host} />}
      {state === "requested" && plan && !plan.loss && (
        <section className="mt-4 border-l-[3px] border-slate pl-3">
          <h2 className="font-text text-[14.5px] font-bold">Effect on today's facts</h2>
          <EffectList plan={plan} />
        </section>
      )}
      {state === "requested" && <Refused title="It is no longer possible" reasons={refused} />}
      {(approval.data.mayAnswer || approval.data.mayWithdraw) && <Answer approval={approval.data} />}
      <p className="mt-6">
        <Link to="/desk" className="underline">
          To the desk
        </Link>
      </p>
    </SidePanel>
  );
}

function Answer({ approval }: { approval: Schema["Approval"] }) {
  const [reason, setReason] = useState("");
  const path = { approval: approval.id };
  const give = useAction((fingerprint: string) =>
    api.POST("/api/approvals/{approval}/approve", { params: { path }, body: { fingerprint } }),
  );
  const turnDown = useAction(() =>
    api.POST("/api/approvals/{approval}/decline", { params: { path }, body: { reason: reason || null } }),
  );
  const withdraw = useAction(() => api.POST("/api/approvals/{approval}/withdraw", { params: { path } }));
  const plan = approval.plan;
  return (
    <section className="mt-4" aria-label="Your answer">
      {approval.mayWithdraw && (
        <p>You made this request, so another administrator has to answer. You can withdraw it.</p>
      )}
      {approval.mayAnswer && <Reason value={reason} onChange={setReason} />}
      <ActionFault error={give.error ?? turnDown.error ?? withdraw.error} />
      <div className="mt-4 flex flex-wrap gap-2">
        {approval.mayAnswer && plan && (
          <Button
            look="primary"
            className="py-2"
            disabled={give.isPending}
            onClick={() => give.mutate(plan.fingerprint)}
          >
            Agree and carry it out
          </Button>
        )}
        {approval.mayAnswer && (
          <Button className="py-2" disabled={turnDown.isPending} onClick={() => turnDown.mutate()}>
            Do not agree
          </Button>
        )}
        {approval.mayWithdraw && (
          <Button className="py-2" disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
            Withdraw the request
          </Button>
        )}
      </div>
    </section>
  );
}
