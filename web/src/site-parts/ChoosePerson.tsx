import type { ReactNode } from "react";
import type { Schema } from "../api/client";
import { Field } from "../ui/Field";
import { RadioGroup } from "../ui/RadioGroup";

/** Somebody who can be chosen, with the evidence in words, or why not. */
export interface Choosable {
  person: Schema["Person"];
  whyNot: string[];
  evidence: string;
}

/** A choice of a new owner by evidence, and a search for another person, which also finds who is not possible. */
export function ChoosePerson(props: {
  /** How they are sorted. */
  note: ReactNode;
  candidates: Choosable[] | undefined;
  chosen: number | null;
  onChoose: (person: Schema["Person"]) => void;
  find: string;
  onFind: (text: string) => void;
  isBusy: boolean;
  error: Error | null;
}) {
  const { candidates, error } = props;
  return (
    <fieldset>
      <legend className="font-semibold">New owner</legend>
      <p className="text-[13px] text-second">{props.note}</p>
      <RadioGroup
        isRuled
        isBusy={props.isBusy}
        value={props.chosen}
        choices={(candidates ?? []).map(({ person, whyNot, evidence }) => ({
          value: person.id,
          isDisabled: whyNot.length > 0,
          shown: (
            <span className="min-w-0">
              <span className="font-semibold">{person.name}</span>{" "}
              <span className="text-[13px] break-all text-second">{person.mail}</span>
              <span className="block text-[13px]">
                {whyNot.length > 0 ? <span className="text-madder">Not possible: {whyNot.join("; ")}</span> : evidence}
              </span>
            </span>
          ),
        }))}
        onChoose={(id) => {
          const chosen = candidates?.find(({ person }) => person.id === id);
          if (chosen) props.onChoose(chosen.person);
        }}
        note={
          error ? (
            <span className="text-madder">{error.message}</span>
          ) : candidates?.length === 0 ? (
            <span className="text-second">No member of staff has that name.</span>
          ) : null
        }
      />
      <Field
        label="Another person"
        type="search"
        placeholder="Part of a name, or the mail address"
        value={props.find}
        onChange={(event) => props.onFind(event.target.value)}
      />
    </fieldset>
  );
}
