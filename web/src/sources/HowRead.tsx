import { Select } from "../ui/Select";
import type { Schema } from "../api/client";
import { WordMeanings } from "./WordMeanings";

/** The corrected mapping of a list: facts by headings, "" for not imported; the order of day and month; meanings by words. */
export interface Reading {
  columns: Record<string, string>;
  words: Record<string, string>;
  days: "" | "day-first" | "month-first";
  /** Of the people for whom a list of people has none. */
  kind?: "" | "staff" | "guest" | "service";
}

/** The mapping of columns to facts, to be corrected. It is saved for the next import. */
export function HowRead(props: {
  list: Schema["ListMapping"];
  how: Reading;
  onChange: (how: Reading) => void;
  isBusy: boolean;
  /** True for a list of people. */
  isOfPeople?: boolean;
}) {
  const { list, how, onChange, isBusy, isOfPeople = false } = props;
  return (
    <>
      <section className="mt-5" aria-label="Columns">
        <h2 className="text-[17px]">Columns</h2>
        <p className="text-[13px] text-second">
          As {list.readAs}. What is chosen here is proposed again with the next list.
        </p>
        <table className="mt-1 w-full text-[14px]">
          <thead>
            <tr className="border-b border-rule-strong text-left">
              <th className="py-1 font-semibold">Column</th>
              <th className="font-semibold">Imported as</th>
              <th className="font-semibold">Because</th>
            </tr>
          </thead>
          <tbody>
            {list.columns.map((column, place) => (
              <tr key={`${place} ${column.head}`} className="border-b border-rule">
                <td className="py-1 pr-3">
                  <bdi>{column.head || "(no heading)"}</bdi>
                </td>
                <td className="py-1 pr-3">
                  <Select
                    label={`${column.head || "(no heading)"} is imported as`}
                    value={how.columns[column.head] ?? column.column ?? ""}
                    choices={[
                      { value: "", words: "not imported" },
                      ...list.facts.map((fact) => ({ value: fact, words: fact })),
                    ]}
                    onChoose={(fact) => onChange({ ...how, columns: { ...how.columns, [column.head]: fact } })}
                  />
                </td>
                <td className="text-second">{column.because}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {isOfPeople && (
          <Select<string>
            labelled="beside"
            label="People without a kind in the list are"
            value={how.kind ?? ""}
            choices={[
              { value: "", words: "not imported if they are new" },
              { value: "staff", words: "staff" },
              { value: "guest", words: "guests" },
              { value: "service", words: "services" },
            ]}
            onChoose={(kind) => onChange({ ...how, kind: kind as NonNullable<Reading["kind"]> })}
          />
        )}
        {list.days && (
          <p className="mt-3 flex flex-wrap items-baseline">
            <Select<string>
              labelled="beside"
              label={`${list.dayExample ?? ""} has`}
              value={list.days}
              choices={[
                { value: "day-first", words: "the day first" },
                { value: "month-first", words: "the month first" },
              ]}
              onChoose={(days) => onChange({ ...how, days: days as Reading["days"] })}
            />
            {!list.daysAreSure && (
              <span className="ml-2 font-normal text-ochre">
                The list does not show which. Check before you import it.
              </span>
            )}
          </p>
        )}
      </section>

      <WordMeanings
        list={list}
        chosen={how.words}
        isBusy={isBusy}
        onChoose={(meanings) => onChange({ ...how, words: { ...how.words, ...meanings } })}
      />
    </>
  );
}
