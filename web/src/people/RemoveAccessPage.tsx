import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate, useRouter, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok } from "../api/client";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { RadioGroup } from "../ui/RadioGroup";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { counted } from "../ui/words";

type Where = "site" | "host" | "everywhere";

/** Removes what a person or a group is granted by name: from one site, at one host or everywhere. Leads to the plan for each site. */
export function RemoveAccessPage() {
  const { person, group, site, host } = useSearch({ from: "/books/remove-access" });
  const navigate = useNavigate();
  const router = useRouter();
  const [chosen, setChosen] = useState<Where>(site !== undefined ? "site" : host !== undefined ? "host" : "everywhere");
  const [reason, setReason] = useState("");
  const about = { ...(person !== undefined && { person }), ...(group !== undefined && { group }) };
  const named = useQuery({
    queryKey: ["named on", about, site],
    queryFn: () =>
      ok(api.GET("/api/named-access", { params: { query: { ...about, ...(site !== undefined && { site }) } } })),
    retry: false,
  });
  const plan = useMutation({
    mutationFn: (where: Where) =>
      ok(
        api.POST("/api/batches", {
          body: {
            action: "access.remove",
            sites: where === "site" && site !== undefined ? [site] : null,
            ...about,
            host: where === "host" ? (host ?? null) : null,
            reason: reason || null,
          },
        }),
      ),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  if (!named.data) return <Waiting title="Remove access" error={named.error} />;
  const { name, hasLeft, hosts, title } = named.data;
  const total = hosts.reduce((sum, { sites }) => sum + sites, 0);
  const atHost = hosts.find((one) => one.host === host)?.sites ?? 0;
  const choices = [
    ...(site !== undefined && title ? [{ value: "site" as const, shown: <bdi>From {title} only</bdi> }] : []),
    ...(host !== undefined && hosts.length > 1
      ? [{ value: "host" as const, shown: `From the ${counted(atHost, "site")} at ${host}` }]
      : []),
    {
      value: "everywhere" as const,
      shown: `From ${total === 1 ? "the 1 site" : `all ${counted(total, "site")}`}${hosts.length > 1 ? ` (${hosts.map((one) => `${one.sites.toLocaleString("en-GB")} at ${one.host}`).join(", ")})` : ""}`,
    },
  ];
  const where = choices.find(({ value }) => value === chosen)?.value ?? "everywhere";
  return (
    <SidePanel title={`Remove the access of ${name}`}>
      {total === 0 ? (
        <p className="mt-4">
          {name} has no access by name to any site in use in your scope. Access through a group is changed in the group,
          at its host.
        </p>
      ) : (
        <form
          className="mt-4"
          onSubmit={(event) => {
            event.preventDefault();
            plan.mutate(where);
          }}
        >
          <p className="mb-3 border-l-[3px] border-slate pl-3">
            {person !== undefined
              ? `${name}${hasLeft ? ", who left," : ""} loses what is granted by name. The plan says for each site what stays through a group, and where an owner has to be added first.`
              : `The whole group loses what is granted to it. The plan says for each site who that is.`}
          </p>
          <fieldset>
            <legend className="font-semibold">From which sites</legend>
            <RadioGroup value={where} choices={choices} onChoose={setChosen} />
          </fieldset>
          <Reason value={reason} onChange={setReason} />
          {plan.error && (
            <p role="alert" className="mt-2 text-madder">
              {plan.error.message}
            </p>
          )}
          <div className="mt-4 flex flex-wrap gap-2">
            <Button look="primary" type="submit" className="py-2" disabled={plan.isPending}>
              See the plan …
            </Button>
            <Button className="py-2" onClick={() => router.history.back()}>
              Cancel
            </Button>
          </div>
        </form>
      )}
    </SidePanel>
  );
}
