import type { Schema } from "../api/client";
import { counted, listed } from "../ui/words";

const named = (rules: Schema["RuleCount"][]) =>
  listed(rules.map(({ rule, count }) => `${rule.short} (${rule.id}) on ${count.toLocaleString("en-GB")}`));

/** The effect of a batch over all its sites. People are counted once; ways in from outside are counted apart from people. */
export function BatchEffect({ batch }: { batch: Schema["Batch"] }) {
  const { effect, state } = batch;
  const sentences = [
    effect.cleared.length > 0 && `Ends findings: ${named(effect.cleared)}.`,
    effect.opened.length > 0 && `New findings: ${named(effect.opened)}.`,
    effect.cleared.length === 0 && effect.opened.length === 0 && "No finding ends and none is new.",
    effect.doorsShut > 0 && `Outside access ends on ${counted(effect.doorsShut, "site")}.`,
    effect.doorsOpened > 0 && `Outside access opens on ${counted(effect.doorsOpened, "site")}.`,
    effect.lose > 0 && `${counted(effect.lose, "person loses", "people lose")} access to some site.`,
    effect.gain > 0 && `${counted(effect.gain, "person gains", "people gain")} access to some site.`,
    effect.seconds > 0 && `${counted(effect.seconds, "site waits", "sites wait")} for a second person.`,
  ].filter((sentence) => sentence !== false);
  return (
    <section>
      <h2 className="font-text text-[15px] font-bold">{state === "planned" ? "Effect" : "What was planned"}</h2>
      <ul className="mt-1 list-disc space-y-1 pl-4 text-[13.5px] marker:text-rule-strong">
        {sentences.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
        {effect.unaffected > 0 && (
          <li className="text-ochre">On {counted(effect.unaffected, "site")} some access stays as it is.</li>
        )}
      </ul>
    </section>
  );
}
