import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault, Refused } from "../deeds/DeedFault";
import { newKey, useDeed } from "../deeds/useDeed";
import { Button } from "../ledger/Button";
import { Candidates } from "../keys/Candidates";
import { Reason } from "../ledger/Field";
import { EffectList } from "../margin/EffectList";

/** Bringing back: what has to change on the way, what it comes to, and the deed. */
export function BringBackForm({ page }: { page: Wire["StayPageWire"] }) {
  const site = page.stay.site;
  const [owner, setOwner] = useState<Wire["PersonWire"] | null>(null);
  const [address, setAddress] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const path = { site };
  const wish = { newOwner: owner?.id ?? null, address, reason: reason || null };
  const plan = useQuery({
    queryKey: ["bring back", site, wish],
    queryFn: () => ok(api.POST("/api/sites/{site}/bring-back/plan", { params: { path }, body: wish })),
    placeholderData: (before) => before,
    retry: false,
  });
  const bring = useDeed((fingerprint: string) =>
    api.POST("/api/sites/{site}/bring-back", { params: { path, header: newKey() }, body: { ...wish, fingerprint } }),
  );
  const planned = plan.data?.plan;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (planned) bring.mutate(planned.fingerprint);
      }}
    >
      {page.needsOwner && (
        <div className="mt-3">
          <p className="mb-2 text-madder">No fit owner is left: choose a new one first.</p>
          <Candidates site={site} chosen={owner?.id ?? null} onChoose={setOwner} />
        </div>
      )}
      {page.addressHeld && (
        <label className="mt-3 block font-semibold">
          Its address is held by another site now. Bring it back at
          <select
            value={address ?? ""}
            onChange={(event) => setAddress(event.target.value || null)}
            className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2 py-1.5 font-address text-[13px] font-normal"
          >
            <option value="">choose a free address</option>
            {page.freeAddresses.map((free) => (
              <option key={free}>{free}</option>
            ))}
          </select>
        </label>
      )}
      {planned && (
        <section className="mt-3">
          <h3 className="font-text text-[14px] font-bold">Coming back comes to this</h3>
          <EffectList plan={planned} way="back" />
        </section>
      )}
      {plan.data && !page.needsOwner && !page.addressHeld && (
        <Refused title="It cannot come back like this" reasons={plan.data.refused} />
      )}
      {plan.error && <p className="mt-2 text-madder">{plan.error.message}</p>}
      {planned && <Reason value={reason} onChange={setReason} />}
      <DeedFault error={bring.error} />
      <Button
        id="remedy"
        look="deed"
        type="submit"
        className="mt-3"
        disabled={!planned || bring.isPending || plan.isFetching}
      >
        Bring it back
      </Button>
    </form>
  );
}
