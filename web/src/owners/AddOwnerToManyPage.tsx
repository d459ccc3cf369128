import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { NoMail } from "../actions/NoMail";
import { useMe } from "../api/useMe";
import { NoSelection } from "../batches/NoSelection";
import { useSelection } from "../batches/selection";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { SidePanel } from "../ui/SidePanel";
import { counted } from "../ui/words";
import { ChoosePerson } from "../site-parts/ChoosePerson";

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
    return <NoSelection title="Add an owner to many sites" />;
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
        <ChoosePerson
          note="Sorted by the number of these sites that they edit, then by those of their unit, then by the fewest sites owned."
          candidates={found.data?.candidates.map((candidate) => ({ ...candidate, evidence: evidence(candidate) }))}
          chosen={to?.id ?? null}
          onChoose={setTo}
          find={find}
          onFind={setFind}
          isBusy={found.isFetching}
          error={found.error}
        />
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
