import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok } from "../api/client";
import { NoSelection } from "../batches/NoSelection";
import { useSelection } from "../batches/selection";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Select } from "../ui/Select";
import { SidePanel } from "../ui/SidePanel";
import { counted } from "../ui/words";
import { useRuleBook } from "./useRules";

/** Grants a dated exception from one rule on the selected sites. Leads to the plan for each site. */
export function GrantExceptionsPage() {
  const sites = [...useSelection()];
  const navigate = useNavigate();
  const { rule: begun } = useSearch({ from: "/books/grant-exceptions" });
  const [chosen, setChosen] = useState<string>();
  const [through, setThrough] = useState("");
  const book = useRuleBook();
  const rules = book.data?.rules.filter(({ isInForce }) => isInForce) ?? [];
  const rule = chosen ?? (rules.some(({ rule: { id } }) => id === begun) ? begun : rules[0]?.rule.id) ?? "";
  const plan = useMutation({
    mutationFn: () => ok(api.POST("/api/batches", { body: { action: "exception.grant", sites, rule, through } })),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  if (sites.length === 0) {
    return <NoSelection title="Grant exceptions on many sites" />;
  }
  return (
    <SidePanel title={`Grant exceptions on ${counted(sites.length, "site")}`}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          plan.mutate();
        }}
      >
        <p className="mb-3 border-l-[3px] border-slate pl-3">
          Sites that break the rule, or about which it cannot tell, may stay as they are until the end of the last day.
          Sites that come later get no exception. You see the plan for each site first, and give the reason there.
        </p>
        <Select
          label="Rule"
          labelled="above"
          isWide
          value={rule}
          choices={rules.map(({ rule: { id, title } }) => ({ value: id, words: `${id} ${title}` }))}
          onChoose={setChosen}
        />
        <Field
          label="Last day"
          type="date"
          required
          value={through}
          onChange={(event) => setThrough(event.target.value)}
        />
        {(book.error ?? plan.error) && (
          <p role="alert" className="mt-2 text-madder">
            {(book.error ?? plan.error)?.message}
          </p>
        )}
        <div className="mt-4 flex flex-wrap gap-2">
          <Button look="primary" type="submit" className="py-2" disabled={!rule || !through || plan.isPending}>
            Plan it …
          </Button>
          <Link to="/" className="inline-block min-h-6 px-2 py-2 underline">
            Cancel
          </Link>
        </div>
      </form>
    </SidePanel>
  );
}
