import { Link } from "@tanstack/react-router";
import { DeedFault } from "../deeds/DeedFault";
import { RuleMoves } from "../first-week/RuleMoves";
import { Button } from "../ledger/Button";
import { counted } from "../ledger/words";
import { useChangeWords, useWordPlan, type WordWish } from "./useWords";

/** What a change of the list comes to: the sites that read otherwise then, the rules that move; then the deed. */
export function WordPlan(props: {
  wish: WordWish;
  /** What is done, as its button says it. */
  words: string;
  onDone: (done: { words: string; entry: number }) => void;
}) {
  const plan = useWordPlan(props.wish);
  const change = useChangeWords(({ entry }) => props.onDone({ words: props.words, entry }));
  if (plan.error) return <p className="mt-2 text-madder">{plan.error.message}</p>;
  if (!plan.data) return <p className="mt-2 text-second">…</p>;
  const { count, sites, refused, fingerprint, rules } = plan.data;
  if (refused)
    return (
      <p role="alert" className="mt-2 text-madder">
        <bdi>{refused}</bdi>
      </p>
    );
  return (
    <div className="mt-2 border-l-[3px] border-slate pl-3">
      <p>{count === 0 ? "No site reads otherwise then." : `${counted(count, "site")} read otherwise then:`}</p>
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
        <p className="mt-1">{rules.length === 0 ? "No rule clears or opens by it." : <RuleMoves moves={rules} />}</p>
      )}
      <DeedFault error={change.error} />
      <Button
        look="deed"
        className="mt-2 py-2"
        disabled={change.isPending || plan.isFetching}
        onClick={() => change.mutate({ wish: props.wish, fingerprint })}
      >
        {change.isPending ? "Changing the list …" : props.words}
      </Button>
    </div>
  );
}
