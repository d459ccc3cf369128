import { Popover } from "radix-ui";
import { useState } from "react";
import type { Wire } from "../api/client";
import { ApiError } from "../api/client";
import { Button } from "../ledger/Button";
import type { RegisterSearch } from "../search";
import { SentencePart, type Choice } from "./SentencePart";

interface Props {
  search: RegisterSearch;
  counts: Wire["RegisterWire"] | undefined;
  error: Error | null;
  onChange: (change: Partial<Record<keyof RegisterSearch, string | undefined>>) => void;
}

const sorts: Choice[] = [
  { key: "title", words: "by name" },
  { key: "edited", words: "latest edit first" },
];

/** The list in one sentence, whose underlined parts are its filters. */
export function Sentence({ search, counts, error, onChange }: Props) {
  const units = counts?.units.map((unit) => ({
    ...unit,
    words: unit.key === "none" ? "of no unit" : `in ${unit.words}`,
  }));
  return (
    <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1 text-[16px]" role="group" aria-label="The sentence">
      <span>Sites</span>
      <SentencePart
        label="Unit"
        any="in any unit"
        choices={units ?? []}
        chosen={search.unit}
        onChoose={(unit) => onChange({ unit })}
      />
      <span>that</span>
      <SentencePart
        label="Reach"
        any="anybody can reach"
        choices={counts?.reaches ?? []}
        chosen={search.reach}
        onChoose={(reach) => onChange({ reach })}
      />
      <span>and that</span>
      <SentencePart
        label="Rules"
        any="break any rule or none"
        choices={counts?.rules ?? []}
        chosen={search.rule}
        onChoose={(rule) => onChange({ rule })}
      />
      <span>and</span>
      <SentencePart
        label="Stage"
        any="are at any stage"
        choices={counts?.stages ?? []}
        chosen={search.stage}
        onChoose={(stage) => onChange({ stage })}
      />
      <Expression search={search} whole={counts?.filter} error={error} onChange={(filter) => onChange({ filter })} />
      <span>,</span>
      <SentencePart
        label="Order"
        any="worst first"
        choices={sorts}
        chosen={search.sort}
        onChoose={(sort) => onChange({ sort })}
      />
    </div>
  );
}

/** "and …": anything else, in the open grammar; and what stands behind the sentence. */
function Expression(props: {
  search: RegisterSearch;
  whole: string | undefined;
  error: Error | null;
  onChange: (filter: string | undefined) => void;
}) {
  const [text, setText] = useState(props.search.filter ?? "");
  const problem =
    props.error instanceof ApiError && props.error.status === 400
      ? (props.error.body as Wire["FilterProblemWire"])
      : null;
  return (
    <Popover.Root onOpenChange={(open) => open && setText(props.search.filter ?? "")}>
      <Popover.Trigger
        className={
          props.search.filter
            ? "max-w-72 truncate rounded-t-[3px] border-b-2 border-moss bg-moss-pale px-1 py-0.5 font-address text-[14px]"
            : "rounded-t-[3px] border-b-2 border-dashed border-moss px-1 py-0.5 font-semibold text-moss hover:bg-bar"
        }
        aria-label={props.search.filter ? `And: ${props.search.filter}` : "And …: write a filter"}
      >
        {props.search.filter ? `and ${props.search.filter}` : "and …"}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label="A filter of your own"
          className="z-20 w-[440px] rounded-[5px] border border-rule-strong bg-sheet p-4 text-ink"
        >
          <form
            onSubmit={(event) => {
              event.preventDefault();
              props.onChange(text.trim() || undefined);
            }}
          >
            <label className="block font-semibold">
              And also
              <textarea
                value={text}
                rows={3}
                spellCheck={false}
                placeholder='owners[standing eq "left"]'
                aria-describedby="filter-problem"
                onChange={(event) => setText(event.target.value)}
                className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2 py-1.5 font-address text-[13px] font-normal placeholder:text-second"
              />
            </label>
            <p id="filter-problem" role="alert" className="mt-1 text-[13px] text-madder">
              {problem ? `Column ${problem.column}: ${problem.message}.` : ""}
            </p>
            <div className="mt-2 flex gap-2">
              <Button look="deed" type="submit">
                Filter
              </Button>
              {props.search.filter && (
                <Button
                  onClick={() => {
                    setText("");
                    props.onChange(undefined);
                  }}
                >
                  Take it away
                </Button>
              )}
            </div>
          </form>
          {props.whole && (
            <p className="mt-3 border-t border-rule pt-2 text-[13px] text-second">
              The whole sentence: <span className="font-address break-words text-ink">{props.whole}</span>
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
