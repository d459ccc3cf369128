import type { Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { capital, onDay } from "../ledger/words";
import { useDecide, useTakeBack } from "../first-week/useSay";
import { Section } from "./Section";

type Folio = Wire["FolioWire"];

/** Facts that more than the host speaks of: what each source says and since when, what stands, and the way to decide. */
export function Said({ folio }: { folio: Folio }) {
  if (folio.said.length === 0) return null;
  return (
    <Section
      title={folio.said.some((fact) => fact.isDisputed) ? "Sources say different things" : "Said by more than the host"}
    >
      {folio.said.map((fact) => (
        <Fact key={fact.fact} fact={fact} site={folio.line.id} />
      ))}
    </Section>
  );
}

function Fact({ fact, site }: { fact: Folio["said"][number]; site: number }) {
  const decide = useDecide();
  const back = useTakeBack();
  const isDecided = fact.statements.some((statement) => statement.source === null);
  const fault = decide.error ?? back.error;
  return (
    <li className="border-b border-rule py-2">
      <p className={fact.isDisputed ? "font-semibold text-ochre" : "font-semibold"}>
        {capital(fact.fact)}
        {fact.isDisputed && ": undecided"}
      </p>
      <ul>
        {fact.statements.map((statement) => (
          <li key={statement.source ?? "here"} className="flex items-center justify-between gap-3 py-1">
            <span className="min-w-0">
              <bdi className="font-semibold">{statement.words}</bdi>{" "}
              <span className="text-second">
                {statement.source
                  ? `says ${statement.source}`
                  : `decided here${statement.by ? ` by ${statement.by.name}` : ""}`}
                , since {onDay(statement.since)}
                {statement.stands && "; it stands"}
              </span>
            </span>
            {fact.mayDecide && statement.source !== null && (fact.isDisputed || !statement.stands) && (
              <Button
                disabled={decide.isPending}
                onClick={() => decide.mutate({ fact: fact.fact, sites: [site], value: statement.value, group: null })}
              >
                Decide for this
              </Button>
            )}
            {fact.mayDecide && statement.source === null && isDecided && (
              <Button disabled={back.isPending} onClick={() => back.mutate({ fact: fact.fact, sites: [site] })}>
                Take it back
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
