import type { Schema } from "../api/client";
import { RadioGroup } from "../ui/RadioGroup";
import { capital } from "../ui/words";
import { powers } from "./powers";

type Power = Schema["Power"];

/** The power that somebody is given, the weakest first, with what it lets them do. */
export function PowerChoice(props: { value: Power; onChoose: (power: Power) => void; without: Power[] }) {
  return (
    <fieldset className="mt-4">
      <legend className="font-semibold">What they can do</legend>
      <RadioGroup
        value={props.value}
        choices={powers
          .filter(({ value }) => !props.without.includes(value))
          .map(({ value, can, includes }) => ({
            value,
            shown: (
              <span>
                {capital(can)} <span className="text-[13px] text-second">{includes}</span>
              </span>
            ),
          }))}
        onChoose={props.onChoose}
      />
    </fieldset>
  );
}
