import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, type Schema } from "../api/client";
import { Field, LongField } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { ChangePlan } from "./ChangePlan";
import { LogoChoice } from "./LogoChoice";
import { useLookPlan, useSiteLook, type SiteLook, type WantedLogo } from "./useLook";

const where: Record<Schema["VisibleName"], string> = {
  shown: "Its pages show",
  home: "Its home page is called",
  address: "Its address is",
};

/** Changes name, description or logo of a site. */
export function LookPage() {
  const { site } = useParams({ from: "/books/sites/$site/look" });
  const look = useSiteLook(Number(site));
  if (!look.data) return <Waiting title="Name, description and logo" error={look.error} />;
  return (
    <SidePanel
      title={`Name, description and logo: ${look.data.title}`}
      lead={<span className="font-address text-[13px] break-all">{look.data.address.whole ?? "no address"}</span>}
    >
      <Refused title="Not possible now" reasons={look.data.refused} />
      {look.data.refused.length === 0 && <Form key={look.data.site} look={look.data} />}
    </SidePanel>
  );
}

function Form({ look }: { look: SiteLook }) {
  const navigate = useNavigate();
  const [name, setName] = useState(look.name ?? "");
  const [description, setDescription] = useState(look.description ?? "");
  const [logo, setLogo] = useState<WantedLogo | null>(null);
  const [comment, setComment] = useState("");
  const path = { site: look.site };
  const change = {
    name: name === (look.name ?? "") ? null : name,
    description: description === (look.description ?? "") ? null : description,
    logo,
    reason: null,
  };
  const isChanged = change.name !== null || change.description !== null || logo !== null;
  const plan = useLookPlan(look.site, change, isChanged);
  const send = useAction(
    (fingerprint: string) =>
      api.POST("/api/sites/{site}/look", {
        params: { path },
        body: { ...change, reason: comment || null, fingerprint },
      }),
    () => navigate({ to: "/sites/$site", params: { site: look.site.toString() } }),
  );
  const can = (field: Schema["LookField"]) => look.changes.includes(field);
  if (!["name", "description", "logo"].some((field) => can(field as Schema["LookField"])))
    return (
      <p className="mt-4">
        {look.host} does not let name, description and logo be changed from here: an owner changes them there, and the
        next sync reports it.
      </p>
    );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (plan.planned) send.mutate(plan.planned.fingerprint);
      }}
    >
      {look.drift.length > 0 && (
        <Notice>
          <p className="font-semibold">The stored name is “{look.name}”, and visitors read other names:</p>
          <ul>
            {look.drift.map((one) => (
              <li key={one.where}>
                {where[one.where]} <bdi>“{one.name}”</bdi>.
              </li>
            ))}
          </ul>
        </Notice>
      )}
      <Field
        label="Name"
        value={name}
        maxLength={200}
        autoComplete="off"
        disabled={!can("name")}
        onChange={(event) => setName(event.target.value)}
        hint={
          can("name")
            ? "It can be changed again at any time. The address stays."
            : `${look.host} does not let it be changed from here.`
        }
      />
      <LongField
        label="Description"
        value={description}
        maxLength={2000}
        disabled={!can("description")}
        onChange={(event) => setDescription(event.target.value)}
        hint={
          !can("description")
            ? `${look.host} does not let it be changed from here.`
            : look.isDescriptionKnown
              ? "Empty for none."
              : `${look.host} does not report the description that it has now.`
        }
      />
      {can("logo") && <LogoChoice look={look} wanted={logo} onChoose={setLogo} />}
      <ChangePlan
        planned={plan.planned}
        refused={plan.refused}
        error={send.error ?? plan.error}
        isCurrent={!plan.isPlaceholderData}
        isSending={send.isPending}
        nothing="Nothing yet: change the name, the description or the logo."
        button={look.byHand ? "Assign the change" : "Change it"}
        comment={comment}
        onComment={setComment}
      />
      <p className="mt-4 flex gap-4">
        <Link to="/sites/$site" params={{ site: look.site.toString() }} className="underline">
          Cancel
        </Link>
        <Link to="/sites/$site/address" params={{ site: look.site.toString() }} className="underline">
          Change the address instead
        </Link>
      </p>
    </form>
  );
}
