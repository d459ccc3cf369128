import type { Schema } from "../api/client";
import { capital, inBytes, listed, onDay } from "../ui/words";
import { Line } from "./Line";

type Fact = Schema["Fact"];

/** The declared facts of a part of the site page, a line each: a new fact needs nothing here. */
export function FactLines({ sitePage, line }: { sitePage: Schema["SitePage"]; line: Schema["FactLine"] }) {
  return sitePage.facts
    .filter((fact) => fact.line === line)
    .map((fact) => <Line key={fact.fact} term={capital(fact.label)} value={<bdi>{inWords(fact)}</bdi>} />);
}

function inWords(fact: Fact) {
  if (!fact.isKnown) return "not known";
  if (typeof fact.text === "string") return fact.text;
  if (typeof fact.number === "number")
    return fact.unit === "bytes" ? inBytes(fact.number) : fact.number.toLocaleString("en-GB");
  if (typeof fact.flag === "boolean") return fact.flag ? "yes" : "no";
  if (typeof fact.at === "string") return onDay(fact.at);
  return fact.items && fact.items.length > 0 ? listed(fact.items) : "none";
}
