import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { ActionFault, Refused } from "../actions/ActionFault";
import { AddressUse } from "../actions/AddressImpact";
import { useAction } from "../actions/useAction";
import { api, type Schema } from "../api/client";
import { FreeAddresses } from "../site-parts/FreeAddresses";
import { FixedField } from "../ui/FixedField";
import { Select } from "../ui/Select";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { listed } from "../ui/words";
import { ChangePlan } from "./ChangePlan";
import { useAddressCheck, useAddressPlan, useSiteLook, type SiteLook } from "./useLook";

const periods = [30, 90, 180, 365];
const usual = 90;

/** Changes the address of a site: who uses the old one, whether the new one can be had, and what becomes of the old one. */
export function AddressPage() {
  const { site } = useParams({ from: "/books/sites/$site/address" });
  const look = useSiteLook(Number(site));
  if (!look.data) return <Waiting title="Address" error={look.error} />;
  const { address, host, title, refused } = look.data;
  return (
    <SidePanel
      title={`Address: ${title}`}
      lead={<span className="font-address text-[13px] break-all">{address.whole ?? "no address"}</span>}
    >
      <section className="mt-4">
        <h2 className="font-text text-[15px] font-bold">Who uses it now</h2>
        <AddressUse impact={address.impact} />
      </section>
      <Refused title="Not possible now" reasons={refused} />
      {refused.length === 0 &&
        (address.before === null ? (
          <p className="mt-4 border-l-[3px] border-madder pl-3">
            {host} does not let the address of a site be changed, neither from here nor there. The name can change
            without it.{" "}
            <Link to="/sites/$site/look" params={{ site }} className="underline">
              Change the name
            </Link>
          </p>
        ) : (
          <Form key={look.data.site} look={look.data} before={address.before} after={address.after ?? ""} />
        ))}
    </SidePanel>
  );
}

function Form({ look, before, after }: { look: SiteLook; before: string; after: string }) {
  const navigate = useNavigate();
  const { address } = look;
  const [own, setOwn] = useState(address.own ?? "");
  const [swap, setSwap] = useState(false);
  const [days, setDays] = useState(Math.min(usual, address.forwardDays));
  const [comment, setComment] = useState("");
  const path = { site: look.site };
  const check = useAddressCheck(look.site, own);
  const isChanged = own !== "" && own !== address.own;
  const partner = isChanged ? (check.data?.swapWith ?? null) : null;
  const change = {
    own,
    forwardDays: swap || address.whole === null ? 0 : days,
    swap: swap && partner !== null,
    reason: null,
  };
  const plan = useAddressPlan(look.site, change, isChanged);
  const send = useAction(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/address", {
        params: { path },
        body: { ...change, reason: comment || null, fingerprint },
      }),
    () => navigate({ to: "/sites/$site", params: { site: look.site.toString() } }),
  );
  const choose = (text: string) => {
    setOwn(text);
    setSwap(false);
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (plan.planned) send.mutate(plan.planned.fingerprint);
      }}
    >
      <FixedField
        label="New address"
        before={before}
        after={after}
        value={own}
        isRefused={isChanged && check.data?.isFree === false && !swap}
        hint={
          check.data?.suggested && check.data.suggested !== own
            ? `The name suggests ${check.data.suggested}.`
            : "Small letters, digits and single hyphens."
        }
        onChange={choose}
      >
        {isChanged && check.data && <Verdict check={check.data} whole={`${before}${own}${after}`} onChoose={choose} />}
        <ActionFault error={check.error} />
      </FixedField>
      {partner && (
        <label className="mt-2 flex items-baseline gap-2">
          <input
            type="checkbox"
            checked={swap}
            onChange={(event) => setSwap(event.target.checked)}
            className="size-4 accent-[var(--cover)]"
          />
          <span>
            Exchange the addresses: <bdi>{partner.title}</bdi> gets{" "}
            <span className="font-address text-[13px] break-all">{address.whole}</span>
          </span>
        </label>
      )}
      {!swap && address.whole !== null && address.forwardDays > 0 && (
        <Select
          labelled="above"
          label="The old address forwards to the new one"
          value={days.toString()}
          choices={[
            { value: "0", words: "not at all" },
            ...periods
              .filter((one) => one <= address.forwardDays)
              .map((one) => ({ value: `${one}`, words: `for ${one} days` })),
          ]}
          onChoose={(chosen) => setDays(Number(chosen))}
        />
      )}
      {address.whole !== null && address.forwardDays === 0 && (
        <p className="mt-3 text-ochre">
          {look.host} does not forward former addresses: the old one leads nowhere then.
        </p>
      )}
      <ChangePlan
        planned={plan.planned}
        refused={plan.refused}
        error={send.error ?? plan.error}
        isCurrent={!plan.isPlaceholderData && check.isCurrent}
        isSending={send.isPending}
        nothing="Nothing yet: type another address."
        button={look.byHand ? "Assign the change" : swap ? "Exchange the addresses" : "Change the address"}
        comment={comment}
        onComment={setComment}
      />
      <p className="mt-4">
        <Link to="/sites/$site" params={{ site: look.site.toString() }} className="underline">
          Cancel
        </Link>
      </p>
    </form>
  );
}

function Verdict(props: { check: Schema["AddressCheck"]; whole: string; onChoose: (address: string) => void }) {
  const { check, whole, onChoose } = props;
  return (
    <div className="mt-1 text-[13px]">
      {check.isFree && (
        <p className="font-semibold text-moss">
          <span className="font-address break-all">{whole}</span> is free.
        </p>
      )}
      <ul>
        {check.faults.map(({ sentence }) => (
          <li key={sentence} className={check.isFree ? "text-ochre" : "text-madder"}>
            <bdi>{sentence}</bdi>
          </li>
        ))}
      </ul>
      {check.holders.map(({ site, ask }) =>
        site ? (
          <p key={site.id}>
            <Link to="/sites/$site" params={{ site: site.id.toString() }} className="underline">
              <bdi>{site.title}</bdi>
            </Link>
            {ask.length > 0 && <>: ask {listed(ask.map(({ name, mail }) => `${name} (${mail})`))}.</>}
          </p>
        ) : null,
      )}
      <FreeAddresses addresses={check.alternatives} onChoose={onChoose} />
    </div>
  );
}
