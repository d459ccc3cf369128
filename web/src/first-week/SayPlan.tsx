import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { Button } from "../ledger/Button";
import { counted } from "../ledger/words";
import { RuleMoves } from "./RuleMoves";
import { useSay, type SaidFact } from "./useSay";

const MOST_SHOWN = 12;

/** What saying it would come to: the sites with their evidence, the rules that move; then the deed. */
export function SayPlan(props: {
  wish: Wire["SayWire"];
  /** What is said, where it is the same of all. */
  name: string;
  maySay: boolean;
  note: string | null;
  onSaid: (done: { fact: SaidFact; count: number; together: string }) => void;
}) {
  const { wish } = props;
  const plan = useQuery({
    queryKey: ["say", wish],
    queryFn: () => ok(api.POST("/api/said/plan", { body: wish })),
    placeholderData: (before) => before,
    retry: false,
  });
  const say = useSay((said) => props.onSaid({ fact: wish.fact, ...said }));
  if (plan.error) return <p className="mt-2 text-madder">{plan.error.message}</p>;
  if (!plan.data) return <p className="mt-2 text-second">…</p>;
  const { count, told, rules, sites, fingerprint, refused } = plan.data;
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
            </span>
          </li>
        ))}
      </ul>
      {count > shown.length && (
        <p className="text-[14px] text-second">{(count - shown.length).toLocaleString("en-GB")} more</p>
      )}
      {props.maySay && (
        <p className="mt-2">
          {told > 0
            ? `Every rule can be told of ${counted(told, "more site")} then.`
            : "No more sites can be told by it alone."}
          <RuleMoves moves={rules} />
        </p>
      )}
      {props.note && <p className="mt-2 text-ochre">{props.note}</p>}
      {props.maySay && refused && <p className="mt-2 text-madder">{refused}</p>}
      <DeedFault error={say.error} />
      {props.maySay && !refused && (
        <Button
          look="deed"
          className="mt-2 py-2"
          disabled={say.isPending || plan.isFetching}
          onClick={() => say.mutate({ wish, fingerprint })}
        >
          {say.isPending
            ? "Saying it …"
            : props.name
              ? `Say “${props.name}” of ${counted(count, "site")}`
              : `Say it of ${counted(count, "site")}, of each its own`}
        </Button>
      )}
    </div>
  );
}
