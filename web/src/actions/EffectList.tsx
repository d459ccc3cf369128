import type { Schema } from "../api/client";
import { AddressImpact } from "./AddressImpact";
import { FieldChanges } from "./FieldChanges";
import { capital, counted, listed } from "../ui/words";

type Plan = Schema["Plan"];

const doing = {
  view: "view it",
  preview: "preview it",
  edit: "edit it",
  publish: "publish it",
  invite: "invite people",
  manage: "manage it",
  own: "own it",
};

export const powerLabel = (power: string | null) => (power === null ? "nothing" : power);

/** The effect of a plan in sentences. People are named where they are known; ways in from outside are counted apart from people. */
export function EffectList({ plan, of }: { plan: Plan; of?: "move-to-attic" | "restore" }) {
  return (
    <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] marker:text-rule-strong">
      {!(of === "move-to-attic" && plan.cleared.length === 0) && (
        <li>{of === "restore" ? returnSentence(plan) : findingsSentence(plan)}</li>
      )}
      <FieldChanges fields={plan.fields} />
      {plan.address && <AddressImpact impact={plan.address} />}
      {plan.advice.map((sentence) => (
        <li key={sentence} className="text-ochre">
          <bdi>{sentence}</bdi>
        </li>
      ))}
      {plan.hiddenBorrowers > 0 && (
        <li className="text-ochre">
          {counted(plan.hiddenBorrowers, "site")} outside your scope {plan.hiddenBorrowers === 1 ? "shows" : "show"} its
          logo.
        </li>
      )}
      {plan.changes.map((change) => (
        <li key={change.who}>
          <bdi>{change.who}</bdi>: {powerLabel(change.from)} becomes {powerLabel(change.to)}
        </li>
      ))}
      {plan.powers.map((change) => (
        <PowerSentence key={change.power} change={change} gains={of === "restore" ? "again" : "from then on"} />
      ))}
      {of === "move-to-attic" ? null : plan.visitsAffected === null ? (
        <li>The host reports no visits, so the number of visitors affected is not known.</li>
      ) : (
        plan.visitsAffected > 0 && (
          <li>{counted(plan.visitsAffected, "visit")} in the last seven days, from inside and outside together.</li>
        )
      )}
      {plan.sideEffects.map((sentence) => (
        <li key={sentence}>
          <bdi>{sentence}</bdi>
        </li>
      ))}
      {plan.manualTaskFor && (
        <li className="text-ochre">
          <bdi>{plan.manualTaskFor}</bdi>
        </li>
      )}
      {plan.unaffected.map((sentence) => (
        <li key={sentence} className="text-ochre">
          Unaffected: <bdi>{sentence}</bdi>
        </li>
      ))}
    </ul>
  );
}

const named = (rules: Schema["Rule"][]) => listed(rules.map((rule) => `${rule.short} (${rule.id})`));

function findingsSentence({ cleared, opened }: Plan): string {
  if (cleared.length === 0 && opened.length === 0) return "No finding ends and none is new.";
  const end = `${capital(named(cleared))} ${cleared.length === 1 ? "ends" : "end"}`;
  const areNew = `${named(opened)} ${opened.length === 1 ? "is" : "are"} new.`;
  if (opened.length === 0) return `${end}; no finding is new.`;
  return cleared.length === 0 ? capital(areNew) : `${end}; ${areNew}`;
}

function returnSentence({ changes, opened }: Plan): string {
  const asItWas =
    changes.length === 0 ? "It is restored as it was." : "It is restored with no more access than policy allows now:";
  return opened.length === 0 ? asItWas : `${asItWas} ${capital(named(opened))} will be broken again.`;
}

function PowerSentence({ change, gains }: { change: Schema["PowerChange"]; gains: string }) {
  const verb = doing[change.power];
  return (
    <>
      {change.shut.length > 0 && (
        <li>
          {capital(listed(change.shut))} can no longer {verb}
        </li>
      )}
      {change.opened.length > 0 && (
        <li className="font-semibold text-madder">
          Warning: {capital(listed(change.opened))} can {verb} {gains}
        </li>
      )}
      <Named people={change.lose} does={`can no longer ${verb}`} />
      <Named people={change.gain} does={`can ${verb} ${gains}`} />
    </>
  );
}

function Named({ people, does }: { people: Schema["Person"][]; does: string }) {
  if (people.length === 0) return null;
  if (people.length <= 3) {
    return (
      <li>
        {listed(people.map((person) => person.name))} {does}
      </li>
    );
  }
  return (
    <li>
      <details>
        <summary className="min-h-6 cursor-pointer">
          {counted(people.length, "person", "people")} {does}
        </summary>
        <ul className="max-h-40 overflow-auto border-l border-rule pl-2">
          {people.map((person) => (
            <li key={person.id}>
              {person.name} <span className="text-second">{person.mail}</span>
              {person.isOutside && " (outside)"}
            </li>
          ))}
        </ul>
      </details>
    </li>
  );
}
