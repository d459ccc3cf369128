import type { Wire } from "../api/client";
import { counted, listed } from "../ledger/words";

const named = (rules: Wire["RuleCountWire"][]) =>
  listed(rules.map(({ rule, count }) => `${rule.short} (${rule.id}) on ${count.toLocaleString("en-GB")}`));

/** What a batch comes to over all its sites. People are counted once; doors are never summed with them. */
export function BatchEffect({ batch }: { batch: Wire["BatchWire"] }) {
  const { effect, state } = batch;
  const sentences = [
    effect.cleared.length > 0 && `Clears ${named(effect.cleared)}.`,
    effect.opened.length > 0 && `Findings come up: ${named(effect.opened)}.`,
    effect.cleared.length === 0 && effect.opened.length === 0 && "No finding clears and none comes up.",
    effect.doorsShut > 0 && `A door to the outside shuts on ${counted(effect.doorsShut, "site")}.`,
    effect.doorsOpened > 0 && `A door to the outside opens on ${counted(effect.doorsOpened, "site")}.`,
    effect.lose > 0 && `${counted(effect.lose, "person", "people")} by name lose something somewhere.`,
    effect.gain > 0 && `${counted(effect.gain, "person", "people")} by name gain something somewhere.`,
    effect.seconds > 0 && `${counted(effect.seconds, "site waits", "sites wait")} for a second person.`,
  ].filter((sentence) => sentence !== false);
  return (
    <section>
      <h2 className="font-text text-[15px] font-bold">
        {state === "planned" ? "What it comes to" : "What was planned"}
      </h2>
      <ul className="mt-1 list-disc space-y-1 pl-4 text-[13.5px] marker:text-rule-strong">
        {sentences.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
        {effect.remains > 0 && (
          <li className="text-ochre">On {counted(effect.remains, "site")} something stays that it cannot reach.</li>
        )}
      </ul>
    </section>
  );
}
