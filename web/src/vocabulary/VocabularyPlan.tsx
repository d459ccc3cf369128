import { Link } from "@tanstack/react-router";
import { ActionFault } from "../actions/ActionFault";
import { RuleMoves } from "../classification/RuleMoves";
import { Button } from "../ui/Button";
import { counted } from "../ui/words";
import { useChangeVocabulary, useVocabularyPlan, type VocabularyRequest } from "./useVocabulary";

/** The plan of a change of the vocabulary: the sites whose fact changes, the rules that change; then the action. */
export function VocabularyPlan(props: {
  request: VocabularyRequest;
  /** The action, as its button names it. */
  words: string;
  onDone: (done: { words: string; entry: number }) => void;
}) {
  const plan = useVocabularyPlan(props.request);
  const change = useChangeVocabulary(({ place }) => props.onDone({ words: props.words, entry: place }));
  if (plan.error) return <p className="mt-2 text-madder">{plan.error.message}</p>;
  if (!plan.data) return <p className="mt-2 text-second">…</p>;
  const { count, sites, refused, fingerprint, rules } = plan.data;
  if (refused)
    return (
      <p role="alert" className="mt-2 text-madder">
        <bdi>{refused.sentence}</bdi>
      </p>
    );
  return (
    <div className="mt-2 border-l-[3px] border-slate pl-3">
      <p>{count === 0 ? "No site changes." : `${counted(count, "site")} change:`}</p>
      <ul className="text-[14px]">
        {sites.map((site) => (
          <li key={site.id} className="py-0.5">
            <Link to="/sites/$site" params={{ site: site.id.toString() }} className="underline">
              <bdi>{site.title}</bdi>
            </Link>{" "}
            <span className="text-second">
              <bdi>{site.before ?? "nothing"}</bdi> → <bdi>{site.after ?? "nothing"}</bdi>
            </span>
          </li>
        ))}
      </ul>
      {count > sites.length && (
        <p className="text-[14px] text-second">{(count - sites.length).toLocaleString("en-GB")} more</p>
      )}
      {count > 0 && (
        <p className="mt-1">{rules.length === 0 ? "No finding ends and none is new." : <RuleMoves moves={rules} />}</p>
      )}
      <ActionFault error={change.error} />
      <Button
        look="primary"
        className="mt-2 py-2"
        disabled={change.isPending || plan.isFetching}
        onClick={() => change.mutate({ request: props.request, fingerprint })}
      >
        {change.isPending ? "Changing the vocabulary …" : props.words}
      </Button>
    </div>
  );
}
