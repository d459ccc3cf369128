import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { NoMail } from "../actions/NoMail";
import { useMe } from "../api/useMe";
import { useSelection } from "../batches/selection";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { RadioGroup } from "../ui/RadioGroup";
import { SidePanel } from "../ui/SidePanel";
import { counted } from "../ui/words";

type Candidate = Schema["CandidateForMany"];

/** Asks one person to become an owner of the selected sites, in addition to those they have. Leads to the plan for each site. */
export function AddOwnerToManyPage() {
  const sites = [...useSelection()];
  const navigate = useNavigate();
  const isOwner = useMe()?.role === "owner";
  const [find, setFind] = useState("");
  const [to, setTo] = useState<Candidate["person"] | null>(null);
  const [reason, setReason] = useState("");
  const found = useQuery({
    queryKey: ["candidates", sites, find],
    queryFn: () => ok(api.POST("/api/owners/candidates", { body: { sites, find: find || null } })),
    enabled: sites.length > 0,
    placeholderData: (before) => before,
    staleTime: 60_000,
  });
  const plan = useMutation({
    mutationFn: () =>
      ok(
        api.POST("/api/batches", {
          body: { action: "owner.offer", sites, person: to?.id ?? null, reason: reason || null },
        }),
      ),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  if (sites.length === 0) {
    return (
      <SidePanel title="Add an owner to many sites">
        <p className="mt-4">
          No site is selected. A reload clears the selection. Select sites in the{" "}
          <Link to="/" className="underline">
            register
          </Link>{" "}
          first.
        </p>
      </SidePanel>
    );
  }
  return (
    <SidePanel title={`Add an owner to ${counted(sites.length, "site")}`}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          plan.mutate();
        }}
      >
        <NoMail />
        <p className="mb-3 border-l-[3px] border-slate pl-3">
          Those who own the sites stay owners. The person becomes one of each site that they accept. You see the plan
          for each site first.
        </p>
        <fieldset>
          <legend className="font-semibold">New owner</legend>
          <p className="text-[13px] text-second">
            Sorted by the number of these sites that they edit, then by those of their unit, then by the fewest sites
            owned.
          </p>
          <RadioGroup
            isRuled
            isBusy={found.isFetching}
            value={to?.id ?? null}
            choices={(found.data?.candidates ?? []).map((candidate) => ({
              value: candidate.person.id,
              isDisabled: candidate.whyNot.length > 0,
              shown: (
                <span className="min-w-0">
                  <span className="font-semibold">{candidate.person.name}</span>{" "}
                  <span className="text-[13px] break-all text-second">{candidate.person.mail}</span>
                  <span className="block text-[13px]">
                    {candidate.whyNot.length > 0 ? (
                      <span className="text-madder">Not possible: {candidate.whyNot.join("; ")}</span>
                    ) : (
                      evidence(candidate)
                    )}
                  </span>
                </span>
              ),
            }))}
            onChoose={(id) => setTo(found.data?.candidates.find(({ person }) => person.id === id)?.person ?? null)}
            note={
              found.error ? (
                <span className="text-madder">{found.error.message}</span>
              ) : found.data?.candidates.length === 0 ? (
                <span className="text-second">No member of staff has that name.</span>
              ) : null
            }
          />
          <Field
            label="Another person"
            type="search"
            placeholder="Part of a name, or the mail address"
            value={find}
            onChange={(event) => setFind(event.target.value)}
          />
        </fieldset>
        <Reason value={reason} onChange={setReason} isNeeded={!isOwner} />
        {plan.error && (
          <p role="alert" className="mt-2 text-madder">
            {plan.error.message}
          </p>
        )}
        <div className="mt-4 flex flex-wrap gap-2">
          <Button
            look="primary"
            type="submit"
            className="py-2"
            disabled={!to || (!isOwner && reason.trim() === "") || plan.isPending}
          >
            {to ? `Plan it for ${to.name} …` : "Choose a person first"}
          </Button>
          <Link to="/" className="inline-block min-h-6 px-2 py-2 underline">
            Cancel
          </Link>
        </div>
      </form>
    </SidePanel>
  );
}

function evidence(candidate: Candidate): string {
  const parts = [
    candidate.edits > 0 ? `edits ${counted(candidate.edits, "of them", "of them")}` : "edits none of them by name",
    candidate.unit
      ? candidate.inUnit > 0
        ? `in ${candidate.unit}, the unit of ${candidate.inUnit.toLocaleString("en-GB")} of them`
        : `in ${candidate.unit}`
      : "without a unit",
    candidate.owns > 0 ? `owns ${counted(candidate.owns, "of them", "of them")} already` : null,
    `owns ${counted(candidate.load, "site")}`,
  ];
  return parts.filter((part) => part !== null).join("; ");
}
