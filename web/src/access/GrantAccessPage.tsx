import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useRouter, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { ActionFault, Refused } from "../actions/ActionFault";
import { EffectList } from "../actions/EffectList";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { useSitePage } from "../api/useSitePage";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { RadioGroup } from "../ui/RadioGroup";
import { Select } from "../ui/Select";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { FindPerson, Outside } from "./FindPerson";
import { PowerChoice } from "./PowerChoice";

type Request = Schema["GrantAccessPlanRequest"];
type Power = Schema["Power"];
type Who = "person" | "unit" | Schema["WideSubject"];

const signIns: { value: Schema["VisitorSignIn"]; words: string }[] = [
  { value: "account", words: "An account" },
  { value: "one-time-code", words: "A one-time code" },
  { value: "none", words: "Nothing: without sign-in" },
];

/** Opens a site wider, on purpose: to a person, a group, a unit, all staff, partners or anonymous visitors, with the effect before it is done. */
export function GrantAccessPage() {
  const { site } = useParams({ from: "/books/sites/$site/grant-access" });
  const asked = useSearch({ from: "/books/sites/$site/grant-access" });
  const navigate = useNavigate();
  const router = useRouter();
  const sitePage = useSitePage(Number(site));
  const role = useMe()?.role;
  const [who, setWho] = useState<Who>(asked.all ?? "person");
  const [chosen, setChosen] = useState<{
    person?: number;
    group?: number;
    name?: string;
    note?: string;
    out?: boolean;
  }>({
    ...(asked.person !== undefined && { person: asked.person }),
    ...(asked.group !== undefined && { group: asked.group }),
  });
  const [power, setPower] = useState<Power>(asked.power ?? "view");
  const [unit, setUnit] = useState<string | null>(null);
  const [signIn, setSignIn] = useState<Schema["VisitorSignIn"]>(asked.all === "anonymous" ? "none" : "account");
  const [reason, setReason] = useState("");
  const units = sitePage.data?.units ?? [];
  const own = unit ?? units.at(-1)?.code ?? null;
  const isWide = who !== "person" && who !== "unit";
  const isChosen = who === "person" ? (chosen.person ?? chosen.group) !== undefined : who !== "unit" || own !== null;
  const request: Request = {
    power,
    person: who === "person" ? (chosen.person ?? null) : null,
    group: who === "person" ? (chosen.group ?? null) : null,
    unit: who === "unit" ? own : null,
    all: isWide ? who : null,
    signIn: who === "partners" || who === "anonymous" ? signIn : "account",
    reason: reason || null,
  };
  const params = { path: { site: Number(site) } };
  const plan = useQuery({
    queryKey: ["grant plan", site, { ...request, reason: reason.trim() !== "" }],
    queryFn: () => ok(api.POST("/api/sites/{site}/grant-access/plan", { params, body: request })),
    enabled: isChosen && sitePage.data !== undefined,
    placeholderData: (before) => before,
    retry: false,
  });
  const known = useQuery({
    queryKey: ["person", `${chosen.person}`],
    queryFn: () => ok(api.GET("/api/people/{person}", { params: { path: { person: chosen.person ?? 0 } } })),
    enabled: chosen.person !== undefined && chosen.name === undefined && role !== "owner",
    retry: false,
  });
  const grant = useAction(
    (fingerprint: string) => api.POST("/api/sites/{site}/grant-access", { params, body: { ...request, fingerprint } }),
    (done) =>
      done.approval
        ? navigate({ to: "/approvals/$approval", params: { approval: done.approval } })
        : navigate({ to: "/sites/$site", params: { site } }),
  );
  if (!sitePage.data) return <Waiting title="Grant access" error={sitePage.error} />;
  const planned = isChosen ? plan.data?.plan : undefined;
  const refused = plan.data?.refused ?? [];
  const name = chosen.name ?? known.data?.person.name;
  const isOutside = chosen.out ?? known.data?.person.isOutside ?? false;
  const choices: { value: Who; shown: string }[] = [
    { value: "person", shown: role === "owner" ? "A person" : "A person or a group" },
    ...(units.length > 0 ? [{ value: "unit" as const, shown: "Everybody of a unit" }] : []),
    { value: "staff", shown: "All of the staff" },
    { value: "partners", shown: "Partners" },
    { value: "anonymous", shown: "Anonymous visitors" },
  ];
  return (
    <SidePanel
      title={`Grant access to ${sitePage.data.line.title}`}
      lead={<span className="font-address text-[13px] break-all">{sitePage.data.line.address}</span>}
    >
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (planned) grant.mutate(planned.fingerprint);
        }}
      >
        <fieldset>
          <legend className="font-semibold">To whom</legend>
          <RadioGroup
            value={who}
            choices={choices}
            onChoose={(value) => {
              setWho(value);
              if (value === "anonymous") setSignIn("none");
            }}
          />
        </fieldset>
        {who === "person" && (
          <>
            {(chosen.person ?? chosen.group) !== undefined && (
              <p className="mt-2 bg-bookmark px-2 py-1.5">
                <bdi className="font-semibold">{name ?? "…"}</bdi>{" "}
                <span className="text-[13px] break-all text-second">{chosen.note ?? known.data?.person.mail}</span>
                {isOutside && <Outside />}
              </p>
            )}
            <FindPerson
              label={(chosen.person ?? chosen.group) === undefined ? "Find" : "Somebody else"}
              withGroups
              onChoose={({ person, group }) =>
                setChosen(
                  person
                    ? { person: person.id, name: person.name, note: person.mail, out: person.isOutside }
                    : group
                      ? {
                          group: group.id,
                          name: group.name,
                          note: `group, ${group.people.toLocaleString("en-GB")} people`,
                          out: false,
                        }
                      : {},
                )
              }
            />
          </>
        )}
        {who === "unit" && (
          <Select
            labelled="above"
            label="Unit"
            value={own ?? ""}
            choices={units.map(({ code, name: words }) => ({ value: code, words }))}
            onChoose={setUnit}
          />
        )}
        {(who === "partners" || who === "anonymous") && (
          <Select
            labelled="above"
            label="What they have to prove"
            value={signIn}
            choices={signIns}
            onChoose={setSignIn}
          />
        )}
        <PowerChoice value={power} onChoose={setPower} without={["own"]} />
        <Reason value={reason} onChange={setReason} isNeeded={isWide} />
        <section aria-label="Effect" aria-live="polite" className="mt-4">
          {planned && (
            <>
              <h2 className="font-text text-[14.5px] font-bold">What follows</h2>
              <EffectList plan={planned} />
              {planned.needsSecond && <p className="mt-2 text-ochre">{planned.needsSecond}</p>}
            </>
          )}
          {isChosen && (
            <Refused
              title={refused.every(({ code }) => code === "opening-needs-reason") ? "Still missing" : "Not possible"}
              reasons={refused}
            />
          )}
          {plan.error && <p className="text-madder">{plan.error.message}</p>}
        </section>
        <ActionFault error={grant.error} />
        <div className="mt-4 flex flex-wrap gap-2">
          <Button
            look="primary"
            type="submit"
            className="py-2"
            disabled={!planned || plan.isFetching || grant.isPending}
          >
            {grant.isPending ? "Queuing the change …" : planned?.needsSecond ? "Ask a second person" : "Grant access"}
          </Button>
          <Button className="py-2" onClick={() => router.history.back()}>
            Cancel
          </Button>
        </div>
      </form>
    </SidePanel>
  );
}
