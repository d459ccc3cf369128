import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schema } from "../api/client";
import { labels } from "../api/labels";
import { listed, onDate } from "../ui/words";
import type { Filled } from "./Filled";
import { AskHolder } from "./AskHolder";
import { FreeAddresses } from "../site-parts/FreeAddresses";
import { FixedField } from "../ui/FixedField";
import { LabelledField } from "./LabelledField";
import { Remarks } from "./Remarks";
import type { Check, Kind } from "./useStart";
import { remarksOn } from "./words";

const isRefused = (remarks: Schema["RemarkOnField"][]) => remarks.some(({ weight }) => weight === "refusal");

/** The name, the address that follows it until somebody writes another, and the mail alias. */
export function NameAndAddress({ kind, ...filled }: Filled & { kind: Kind }) {
  const { site, check, isAsked, onChange } = filled;
  // Until the address is written by hand it is the one that the name suggests.
  const [isOwn, setOwn] = useState(site.address !== "");
  const [suggested, setSuggested] = useState<string | null>(null);
  const proposal = check?.address.suggested ?? null;
  if (proposal !== suggested) {
    setSuggested(proposal);
    if (!isOwn && site.address !== (proposal ?? "")) onChange({ address: proposal ?? "" });
  }
  return (
    <fieldset className="mt-7">
      <legend className="font-title text-[17px] font-semibold">Name and address</legend>
      <LabelledField
        field="name"
        label="Name"
        value={site.name}
        maxLength={200}
        autoComplete="off"
        remarks={remarksOn(check, "name", isAsked)}
        hint="It can be changed at any time; the address stays."
        onChange={(name) => onChange({ name })}
      />
      <SameNames names={check?.sameNames ?? []} />
      <FixedField
        field="address"
        label="Address"
        before={kind.addressBefore}
        after={kind.addressAfter}
        value={site.address}
        isRefused={isRefused(remarksOn(check, "address", isAsked))}
        hint="Changing it later breaks links that other people have made."
        onChange={(address) => {
          setOwn(true);
          onChange({ address });
        }}
      >
        <Remarks remarks={remarksOn(check, "address", isAsked)} />
        {check && site.address !== "" && (
          <AddressVerdict
            check={check}
            kind={kind.kind}
            own={site.address}
            onChoose={(address) => {
              setOwn(true);
              onChange({ address });
            }}
          />
        )}
      </FixedField>
      {kind.aliasDomain && (
        <FixedField
          field="alias"
          label="Mail address"
          before=""
          after={`@${kind.aliasDomain}`}
          value={site.alias || site.address}
          isRefused={isRefused(remarksOn(check, "alias", isAsked))}
          hint="Mail to it reaches the editors. It cannot be changed later."
          onChange={(alias) => onChange({ alias: alias === site.address ? "" : alias })}
        >
          <Remarks remarks={remarksOn(check, "alias", isAsked)} />
        </FixedField>
      )}
    </fieldset>
  );
}

function AddressVerdict(props: { check: Check; kind: string; own: string; onChoose: (address: string) => void }) {
  const { kind, own, onChoose } = props;
  const { address } = props.check;
  return (
    <div className="mt-1 text-[13px]">
      {address.isFree && (
        <p className="font-semibold text-moss">
          <span className="font-address break-all">{address.whole}</span> is free.
        </p>
      )}
      {address.holders.map((holder) => (
        <div key={`${holder.as} ${holder.site?.id ?? ""}`}>
          {holder.site ? (
            <>
              <Link to="/sites/$site" params={{ site: holder.site.id.toString() }} className="underline">
                <bdi>{holder.site.title}</bdi>
              </Link>{" "}
              has it, {labels.HeldAs[holder.as]}
              {holder.until && `, to be restored until ${onDate(holder.until)}`}.{" "}
              {holder.ask.length > 0 && <>Ask {listed(holder.ask.map(({ name }) => name))}: </>}
              {holder.ask.map(({ mail }, place) => (
                <span key={mail}>
                  {place > 0 && ", "}
                  <a href={`mailto:${mail}`} className="underline">
                    {mail}
                  </a>
                </span>
              ))}
            </>
          ) : (
            <AskHolder kind={kind} address={own} />
          )}
        </div>
      ))}
      <FreeAddresses addresses={address.alternatives} onChoose={onChoose} />
    </div>
  );
}

function SameNames({ names }: { names: Schema["SiteName"][] }) {
  if (names.length === 0) return null;
  return (
    <p className="mt-1 text-[13px] text-ochre" aria-live="polite">
      The same name, or nearly:{" "}
      {names.map(({ id, title }, place) => (
        <span key={id}>
          {place > 0 && ", "}
          <Link to="/sites/$site" params={{ site: id.toString() }} className="underline">
            <bdi>{title}</bdi>
          </Link>
        </span>
      ))}
      . Two sites may have one name; people will ask which is which.
    </p>
  );
}
