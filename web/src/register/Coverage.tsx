import type { Wire } from "../api/client";
import { counted } from "../ledger/words";
import type { RegisterSearch } from "../search";
import type { SentenceChange } from "./Sentence";

interface Props {
  search: RegisterSearch;
  register: Wire["RegisterWire"];
  onChange: (change: SentenceChange) => void;
}

/** What the list does not say: of how many sites the sentence cannot be told, and which facts nobody gave. */
export function Coverage({ search, register, onChange }: Props) {
  const facts = register.coverage
    .map((fact) => `${fact.words} is not known of ${counted(fact.unknown, "site")}`)
    .join("; ");
  if (search.verdict === "cannot-tell") {
    return (
      <p>
        These are the ones that cannot be told{facts && `: ${facts}`}.{" "}
        <button type="button" className="min-h-6 underline" onClick={() => onChange({ verdict: undefined })}>
          Show those that are like that
        </button>
      </p>
    );
  }
  if (register.cannotTell === 0) return null;
  return (
    <p>
      <button type="button" className="min-h-6 underline" onClick={() => onChange({ verdict: "cannot-tell" })}>
        {register.cannotTell.toLocaleString("en-GB")} more cannot be told
      </button>
      {facts && `: ${facts}`}
    </p>
  );
}
