import { Select } from "../ui/Select";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { Button } from "../ui/Button";
import { Candidates } from "../owners/Candidates";
import { Reason } from "../ui/Field";
import { EffectList } from "../actions/EffectList";

/** Restores a site: what has to change, the predicted effect, and the action. */
export function RestoreForm({ page }: { page: Schema["AtticEntryPage"] }) {
  const site = page.atticEntry.site;
  const [owner, setOwner] = useState<Schema["Person"] | null>(null);
  const [address, setAddress] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const path = { site };
  const request = { newOwner: owner?.id ?? null, address, reason: reason || null };
  const plan = useQuery({
    queryKey: ["restore", site, request],
    queryFn: () => ok(api.POST("/api/sites/{site}/restore/plan", { params: { path }, body: request })),
    placeholderData: (before) => before,
    retry: false,
  });
  const restore = useAction((fingerprint: string) =>
    api.POST("/api/sites/{site}/restore", { params: { path }, body: { ...request, fingerprint } }),
  );
  const planned = plan.data?.plan;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) restore.mutate(planned.fingerprint);
      }}
    >
      {page.needsOwner && (
        <div className="mt-3">
          <p className="mb-2 text-madder">The site has no active owner. Choose a new owner first.</p>
          <Candidates site={site} chosen={owner?.id ?? null} onChoose={setOwner} />
        </div>
      )}
      {page.addressHeld && (
        <Select
          isWide
          isAddress
          labelled="above"
          label="Another site uses its address now. Restore it at"
          value={address ?? ""}
          choices={[
            { value: "", words: "choose a free address" },
            ...page.freeAddresses.map((free) => ({ value: free, words: free })),
          ]}
          onChoose={(free) => setAddress(free || null)}
        />
      )}
      {planned && (
        <section className="mt-3">
          <h3 className="font-text text-[14px] font-bold">Effect of restoring it</h3>
          <EffectList plan={planned} of="restore" />
        </section>
      )}
      {plan.data && !page.needsOwner && !page.addressHeld && (
        <Refused title="It cannot be restored like this" reasons={plan.data.refused} />
      )}
      {plan.error && <p className="mt-2 text-madder">{plan.error.message}</p>}
      {planned && <Reason value={reason} onChange={setReason} />}
      <ActionFault error={restore.error} />
      <Button
        id="remedy"
        look="primary"
        type="submit"
        className="mt-3"
        disabled={!planned || restore.isPending || plan.isFetching}
      >
        Restore it
      </Button>
    </form>
  );
}
