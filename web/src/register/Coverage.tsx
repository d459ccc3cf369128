import type { Schema } from "../api/client";
import { counted } from "../ui/words";
import type { RegisterSearch } from "../api/search";
import type { SentenceChange } from "./Sentence";

interface Props {
  search: RegisterSearch;
  register: Schema["Register"];
  onChange: (change: SentenceChange) => void;
}

/** For how many sites the filters cannot tell, and which facts no source reports. */
export function Coverage({ search, register, onChange }: Props) {
  const facts = register.coverage
    .map((fact) => `${fact.words} is not known of ${counted(fact.unknown, "site")}`)
    .join("; ");
  if (search.verdict === "cannot-tell") {
    return (
      <p>
        These are the sites where the filters cannot tell{facts && `: ${facts}`}.{" "}
        <button type="button" className="min-h-6 underline" onClick={() => onChange({ verdict: undefined })}>
          Show the sites that match
        </button>
      </p>
    );
  }
  if (register.cannotTell === 0) return null;
  return (
    <p>
      <button type="button" className="min-h-6 underline" onClick={() => onChange({ verdict: "cannot-tell" })}>
        {register.cannotTell.toLocaleString("en-GB")} more where the filters cannot tell
      </button>
      {facts && `: ${facts}`}
    </p>
  );
}
