import { Select } from "../ui/Select";
import { useState } from "react";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import type { RegisterSearch } from "../api/search";
import { valueOf, waysOf, writeClause, type Clause } from "./clause";
import { Find } from "../ui/SentencePart";
import { useChoices } from "./useChoices";

interface Props {
  attribute: Schema["Attribute"];
  /** The filter as it is now. */
  clause: Clause;
  /** The place of the filter in the sentence, or the next place for a new one. */
  place: number;
  search: RegisterSearch;
  onDone: (text: string | undefined) => void;
  isNew: boolean;
  /** What the buttons say. */
  does?: { set: string; remove: string };
}

const filters = { set: "Filter", remove: "Remove the filter" };

const box = "rounded-[4px] border border-rule-strong bg-sheet px-2 py-1 text-[14px]";

/** A filter on one attribute: how it compares, and with which values; each existing value with the number of sites it leaves. */
export function ClauseForm({ attribute, clause, place, search, onDone, isNew, does = filters }: Props) {
  const ways = waysOf(attribute);
  const [how, setHow] = useState(ways.some((way) => way.how === clause.how) ? clause.how : (ways[0]?.how ?? "is"));
  const [values, setValues] = useState(clause.values);
  const kind = valueOf(attribute, how);
  const isReady = kind === "none" || values.some((value) => value.trim() !== "");
  return (
    <form
      className="w-[340px] p-3"
      onSubmit={(event) => {
        event.preventDefault();
        // It can be opened from within another form, to which it does not belong.
        event.stopPropagation();
        if (isReady)
          onDone(
            writeClause({ attribute: attribute.name, how, values: kind === "none" ? [] : values.filter(Boolean) }),
          );
      }}
    >
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-semibold">{attribute.words}</span>
        <Select
          label="How"
          value={how}
          choices={ways.map((way) => ({ value: way.how, words: way.words }))}
          onChoose={(chosen) => {
            setHow(chosen);
            if (valueOf(attribute, chosen) !== kind) setValues([]);
          }}
        />
        {(kind === "text" || kind === "number" || kind === "date") && (
          <Typed kind={kind} value={values[0] ?? ""} onChange={(value) => setValues([value])} />
        )}
      </div>
      <p className="mt-1 text-[13px] text-second">{attribute.says}</p>
      {kind === "choices" && (
        <Values attribute={attribute} place={place} search={search} chosen={values} onChange={setValues} />
      )}
      <div className="mt-3 flex gap-2">
        <Button look="primary" type="submit" disabled={!isReady}>
          {does.set}
        </Button>
        {!isNew && <Button onClick={() => onDone(undefined)}>{does.remove}</Button>}
      </div>
    </form>
  );
}

function Typed(props: { kind: "text" | "number" | "date"; value: string; onChange: (value: string) => void }) {
  if (props.kind === "date") return <Day value={props.value} onChange={props.onChange} />;
  return (
    <input
      aria-label={props.kind === "number" ? "Number" : "Text"}
      inputMode={props.kind === "number" ? "numeric" : "text"}
      pattern={props.kind === "number" ? "-?[0-9]+" : undefined}
      title={props.kind === "number" ? "A whole number" : undefined}
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
      className={`${box} min-w-0 flex-1`}
    />
  );
}

const ago = [
  { value: "7d", words: "7 days ago" },
  { value: "30d", words: "30 days ago" },
  { value: "90d", words: "90 days ago" },
  { value: "365d", words: "a year ago" },
];

/** A fixed day, or one relative to today. */
function Day({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  const isDate = value === "" || value.includes("-");
  const other =
    !isDate && !ago.some((day) => day.value === value) ? [{ value, words: `${parseInt(value)} days ago` }] : [];
  return (
    <>
      <Select
        label="Day"
        value={isDate ? "date" : value}
        choices={[{ value: "date", words: "a date" }, ...ago, ...other]}
        onChoose={(day) => onChange(day === "date" ? "" : day)}
      />
      {isDate && (
        <input
          type="date"
          aria-label="Date"
          value={value}
          className={box}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </>
  );
}

function Values(props: {
  attribute: Schema["Attribute"];
  place: number;
  search: RegisterSearch;
  chosen: string[];
  onChange: (values: string[]) => void;
}) {
  const [find, setFind] = useState("");
  const { unit, reach, rule, status, filter, where } = props.search;
  const choices = useChoices(props.attribute, { unit, reach, rule, status, filter, where }, find, props.place);
  const listed = choices.data?.values ?? [];
  const missing = props.chosen.filter((value) => !listed.some((choice) => same(choice.key, value)));
  const toggle = (key: string) =>
    props.onChange(
      props.chosen.some((value) => same(value, key))
        ? props.chosen.filter((value) => !same(value, key))
        : [...props.chosen, key],
    );
  return (
    <div className="mt-2 rounded-[4px] border border-rule">
      {props.attribute.type === "text" && <Find value={find} onChange={setFind} label="Find a value" />}
      <ul className="max-h-56 overflow-auto pb-1" aria-label="Values">
        {[...missing.map((key) => ({ key, words: key, count: 0 })), ...listed].map((choice) => (
          <li key={choice.key}>
            <label className="flex min-h-7 items-center gap-2 px-2 hover:bg-bar">
              <input
                type="checkbox"
                className="size-4"
                checked={props.chosen.some((value) => same(value, choice.key))}
                onChange={() => toggle(choice.key)}
              />
              <span className="min-w-0 flex-1 truncate">
                {props.attribute.type === "word" ? choice.words.replaceAll("-", " ") : choice.words}
              </span>
              <span className="text-second">{choice.count.toLocaleString("en-GB")}</span>
            </label>
          </li>
        ))}
      </ul>
      {choices.data && (
        <p className="border-t border-rule px-2 py-1 text-[12.5px] text-second" role="status">
          {[
            listed.length === 0 && "No value matches.",
            choices.data.more > 0 && `${choices.data.more.toLocaleString("en-GB")} more: type a part.`,
            choices.data.none > 0 && `None at ${choices.data.none.toLocaleString("en-GB")}.`,
            choices.data.unknown > 0 && `Not known of ${choices.data.unknown.toLocaleString("en-GB")}.`,
          ]
            .filter(Boolean)
            .join(" ") || "All values are listed."}
        </p>
      )}
    </div>
  );
}

const same = (one: string, other: string) => one.toLowerCase() === other.toLowerCase();
