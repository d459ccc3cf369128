import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { Button } from "../ui/Button";
import { counted } from "../ui/words";
import { RuleMoves } from "./RuleMoves";
import { useDecide, useSetFact, type ClaimedFact } from "./useSetFact";

const MOST_SHOWN = 12;

/** The plan to set a fact: the sites with their evidence, the rules that change, then the action. */
export function SetFactPlan(props: {
  request: Schema["SetFactsPlanRequest"];
  /** The value, if it is the same for all sites. */
  name: string;
  maySet: boolean;
  /** True if each site of it can be set by itself too. */
  maySetOne?: boolean;
  note: string | null;
  onSet: (done: { fact: ClaimedFact; count: number; together: string }) => void;
}) {
  const { request } = props;
  const plan = useQuery({
    queryKey: ["set fact", request],
    queryFn: () => ok(api.POST("/api/classification/facts/plan", { body: request })),
    placeholderData: (before) => before,
    retry: false,
  });
  const decide = useDecide();
  const setFact = useSetFact((done) => props.onSet({ fact: request.fact, ...done }));
  if (plan.error) return <p className="mt-2 text-madder">{plan.error.message}</p>;
  if (!plan.data) return <p className="mt-2 text-second">…</p>;
  const { count, settled, rules, sites, fingerprint, refused } = plan.data;
  const shown = sites.slice(0, MOST_SHOWN);
  return (
    <div className="mt-2 border-l-[3px] border-slate pl-3">
      <ul className="text-[14px]">
        {shown.map((site) => (
          <li key={site.id} className="py-0.5">
            <Link to="/sites/$site" params={{ site: site.id.toString() }} className="underline">
              <bdi>{site.title}</bdi>
            </Link>{" "}
            {site.evidence.length > 0 && <span className="font-semibold">{site.value}</span>}{" "}
            <span className="text-second">
              {site.evidence.length > 0 ? <bdi>{site.evidence.join("; ")}</bdi> : (site.address ?? site.host)}
            </span>{" "}
            {props.maySetOne && site.code !== null && count > 1 && (
              <button
                type="button"
                className="min-h-6 font-semibold underline"
                disabled={decide.isPending}
                onClick={() => decide.mutate({ fact: request.fact, sites: [site.id], value: site.code, group: null })}
              >
                Set it
                <span className="sr-only">
                  {" "}
                  to {site.value} for {site.title}
                </span>
              </button>
            )}
          </li>
        ))}
      </ul>
      {count > shown.length && (
        <p className="text-[14px] text-second">{(count - shown.length).toLocaleString("en-GB")} more</p>
      )}
      {props.maySet && (
        <p className="mt-2">
          {settled > 0
            ? `Every rule can tell for ${counted(settled, "more site")} then.`
            : "Some rules still cannot tell for these sites afterwards."}
          <RuleMoves moves={rules} />
        </p>
      )}
      {props.note && <p className="mt-2 text-ochre">{props.note}</p>}
      {props.maySet && refused && <p className="mt-2 text-madder">{refused.sentence}</p>}
      <ActionFault error={setFact.error ?? decide.error} />
      {props.maySet && !refused && (
        <Button
          look="primary"
          className="mt-2 py-2"
          disabled={setFact.isPending || plan.isFetching}
          onClick={() => setFact.mutate({ request, fingerprint })}
        >
          {setFact.isPending
            ? "Setting it …"
            : props.name
              ? `Set “${props.name}” for ${counted(count, "site")}`
              : `Set the proposed values for ${counted(count, "site")}`}
        </Button>
      )}
    </div>
  );
}
