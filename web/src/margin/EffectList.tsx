import type { Wire } from "../api/client";
import { capital, counted, inWords, listed } from "../ledger/words";

type Plan = Wire["PlanWire"];

const doing = {
  view: "read",
  preview: "preview",
  edit: "edit",
  publish: "publish",
  invite: "invite",
  manage: "manage",
  own: "own",
};

export const powerWord = (power: string | null) => (power === null ? "nothing" : power);

/** What a plan would come to, in sentences. Where people are known they are named; doors are never summed with them. */
export function EffectList({ plan, way }: { plan: Plan; way?: "away" | "back" }) {
  return (
    <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] marker:text-rule-strong">
      {!(way === "away" && plan.cleared.length === 0) && (
        <li>{way === "back" ? returnSentence(plan) : findingsSentence(plan)}</li>
      )}
      {plan.changes.map((change) => (
        <li key={change.who}>
          <bdi>{change.who}</bdi>: {powerWord(change.from)} becomes {powerWord(change.to)}
        </li>
      ))}
      {plan.powers.map((change) => (
        <PowerSentence key={change.power} change={change} />
      ))}
      {way === "away" ? null : plan.visitsAffected === null ? (
        <li>How many came through the doors that shut was not measured.</li>
      ) : (
        plan.visitsAffected > 0 && (
          <li>{counted(plan.visitsAffected, "visit")} in the last seven days, from inside and outside together.</li>
        )
      )}
      {plan.along.map((sentence) => (
        <li key={sentence}>
          <bdi>{sentence}</bdi>
        </li>
      ))}
      {plan.byHand && (
        <li className="text-ochre">
          <bdi>{plan.byHand}</bdi>
        </li>
      )}
      {plan.remains.map((sentence) => (
        <li key={sentence} className="text-ochre">
          Stays: <bdi>{sentence}</bdi>
        </li>
      ))}
    </ul>
  );
}

const named = (rules: Wire["RuleWire"][]) => listed(rules.map((rule) => `${rule.short} (${rule.id})`));

function findingsSentence({ cleared, opened }: Plan): string {
  if (cleared.length === 0 && opened.length === 0) return "No finding clears and none opens.";
  if (opened.length === 0) return `${capital(named(cleared))} will clear; none opens.`;
  if (cleared.length === 0) return `${capital(named(opened))} will open.`;
  return `${capital(named(cleared))} will clear; ${named(opened)} will open.`;
}

function returnSentence({ changes, opened }: Plan): string {
  const asItWas = changes.length === 0 ? "It comes back as it went." : "It comes back no wider than is allowed now:";
  return opened.length === 0 ? asItWas : `${asItWas} ${capital(named(opened))} will be broken again.`;
}

function PowerSentence({ change }: { change: Wire["PowerChangeWire"] }) {
  const verb = doing[change.power];
  return (
    <>
      {change.shut.length > 0 && (
        <li>
          {capital(listed(change.shut))} can no longer {verb}
        </li>
      )}
      {change.opened.length > 0 && (
        <li>
          {capital(listed(change.opened))} can {verb} again
        </li>
      )}
      <Named people={change.lose} does={`can no longer ${verb}`} />
      <Named people={change.gain} does={`can ${verb} from then on`} />
    </>
  );
}

function Named({ people, does }: { people: Wire["PersonWire"][]; does: string }) {
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
          {capital(inWords(people.length))} people by name {does}
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
