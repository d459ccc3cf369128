import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import { capital, onDay } from "../ui/words";
import { useDecide, useUndo } from "../classification/useSetFact";
import { Section } from "./Section";

type SitePage = Schema["SitePage"];

/** Facts that sources beside the host report too: each claim with its date, the one that applies, and a button to set the fact. */
export function Claims({ sitePage }: { sitePage: SitePage }) {
  if (sitePage.claims.length === 0) return null;
  return (
    <Section
      title={sitePage.claims.some((fact) => fact.isDisputed) ? "Sources disagree" : "Facts from several sources"}
    >
      {sitePage.claims.map((fact) => (
        <Fact key={fact.fact} fact={fact} site={sitePage.line.id} />
      ))}
    </Section>
  );
}

function Fact({ fact, site }: { fact: SitePage["claims"][number]; site: number }) {
  const decide = useDecide();
  const back = useUndo();
  const isDecided = fact.claims.some((claim) => claim.source === null);
  const fault = decide.error ?? back.error;
  return (
    <li className="border-b border-rule py-2">
      <p className={fact.isDisputed ? "font-semibold text-ochre" : "font-semibold"}>
        {capital(fact.fact)}
        {fact.isDisputed && ": not settled"}
      </p>
      <ul>
        {fact.claims.map((claim) => (
          <li key={claim.source ?? "here"} className="flex items-center justify-between gap-3 py-1">
            <span className="min-w-0">
              <bdi className="font-semibold">{claim.words}</bdi>{" "}
              <span className="text-second">
                {claim.source ? `reported by ${claim.source}` : `set here${claim.by ? ` by ${claim.by.name}` : ""}`},
                since {onDay(claim.since)}
                {claim.stands && "; applies"}
              </span>
            </span>
            {fact.mayDecide && claim.source !== null && (fact.isDisputed || !claim.stands) && (
              <Button
                disabled={decide.isPending}
                onClick={() => decide.mutate({ fact: fact.fact, sites: [site], value: claim.value, group: null })}
              >
                Set this value
              </Button>
            )}
            {fact.mayDecide && claim.source === null && isDecided && (
              <Button disabled={back.isPending} onClick={() => back.mutate({ fact: fact.fact, sites: [site] })}>
                Undo
              </Button>
            )}
          </li>
        ))}
      </ul>
      {fault && (
        <p role="alert" className="text-madder">
          {fault.message}
        </p>
      )}
    </li>
  );
}
