import type { Schema } from "../api/client";
import { RadioGroup } from "../ui/RadioGroup";
import { Select } from "../ui/Select";
import type { Filled } from "./Filled";
import { Remarks } from "./Remarks";
import type { Kind, Start } from "./useStart";
import { insides, outsides, reachInWords, remarksOn } from "./words";

type Reach = Schema["ViewReach"];

/** Who can view the published copy beside owners and editors: what the purpose expects, until somebody chooses otherwise. */
export function ChooseReach({ site, check, isAsked, onChange, kind, start }: Filled & { kind: Kind; start: Start }) {
  const usual = start.purposes.find(({ code }) => code === site.purpose);
  const set = (some: Partial<Reach>) => onChange({ reach: { ...site.reach, ...some } });
  return (
    <fieldset className="mt-7">
      <legend className="font-title text-[17px] font-semibold">Who can view it</legend>
      <p className="text-[13px] text-second">
        {usual
          ? `Usual for ${usual.name}: ${reachInWords(usual.reach)}. `
          : "The purpose proposes who can usually view it. "}
        Drafts are for owners and editors. It can be changed at any time.
      </p>
      <div className="mt-1 grid gap-x-6 sm:grid-cols-2">
        <fieldset data-field="reach" tabIndex={-1}>
          <legend className="font-semibold">Inside</legend>
          <RadioGroup<Reach["inside"]>
            value={site.reach.inside === "nobody" ? "named" : site.reach.inside}
            choices={(["named", "unit", "staff"] as const).map((value) => ({
              value,
              shown: insides[value],
              isDisabled: kind.alwaysAllStaff && value !== "staff",
            }))}
            onChoose={(inside) => set({ inside })}
          />
        </fieldset>
        <fieldset>
          <legend className="font-semibold">From outside</legend>
          <RadioGroup<Reach["outside"]>
            value={site.reach.outside === "named-guests" ? "no-one" : site.reach.outside}
            choices={(["no-one", "partners", "anonymous"] as const).map((value) => ({
              value,
              shown: outsides[value],
            }))}
            onChoose={(outside) => set({ outside, signIn: outside === "anonymous" ? "none" : "account" })}
          />
          {site.reach.outside === "anonymous" && (
            <Select<Reach["signIn"]>
              label="What visitors have to do"
              labelled="above"
              value={site.reach.signIn}
              choices={[
                { value: "none", words: "nothing" },
                { value: "one-time-code", words: "enter a one-time code" },
                { value: "account", words: "sign in" },
              ]}
              onChoose={(signIn) => set({ signIn })}
            />
          )}
        </fieldset>
      </div>
      <div aria-live="polite">
        <Remarks remarks={remarksOn(check, "reach", isAsked)} />
      </div>
    </fieldset>
  );
}
