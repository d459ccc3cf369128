import type { Schema } from "../api/client";
import { counted, listed } from "../ui/words";

/** The effect of what is done on one site. */
export function effectText(line: Schema["BatchLine"]) {
  const named = (rules: Schema["Rule"][]) => listed(rules.map((rule) => `“${rule.short}”`));
  const parts = [
    line.cleared.length > 0 && `ends ${named(line.cleared)}`,
    line.opened.length > 0 && `adds ${named(line.opened)}`,
    line.shutsDoors && "ends outside access",
    line.opensDoors && "opens outside access",
    line.lose > 0 && `${counted(line.lose, "person loses", "people lose")} something`,
    line.gain > 0 && `${counted(line.gain, "person gains", "people gain")} something`,
  ].filter((part) => part !== false);
  const isAsked = line.action === "owner.offer" && parts.length > 0;
  return (
    <>
      {isAsked && "Once it is accepted: "}
      {parts.join("; ") ||
        (line.action === "site.look" || ["refused", "left-out"].includes(line.outcome) ? "" : "nobody loses access")}
      {line.nameBefore !== null && line.nameBefore !== line.title && (
        <span className="block">
          before: <bdi>{line.nameBefore}</bdi>
        </span>
      )}
      {line.needsSecond && <span className="block text-ochre">{line.needsSecond}</span>}
      {line.advice.map((sentence) => (
        <span key={sentence} className="block text-ochre">
          <bdi>{sentence}</bdi>
        </span>
      ))}
      {line.unaffected.map((sentence) => (
        <span key={sentence} className="block text-ochre">
          Unaffected: <bdi>{sentence}</bdi>
        </span>
      ))}
    </>
  );
}
