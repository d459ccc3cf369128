import { Popover } from "radix-ui";
import { useState } from "react";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import type { RegisterSearch } from "../api/search";
import { ClauseForm } from "./ClauseForm";
import { FilterField } from "./FilterField";
import { AttributeChoice } from "./AttributeChoice";
import { popoverLook } from "../ui/popoverLook";

interface Props {
  search: RegisterSearch;
  attributes: Schema["Attribute"][];
  /** The whole filter in the filter grammar. */
  whole: string | undefined;
  problem: Schema["FilterProblem"] | undefined;
  onClause: (text: string) => void;
  onFilter: (filter: string | undefined) => void;
}

/** Adds a filter by any attribute, or a filter written in the grammar. */
export function AndMore(props: Props) {
  const { search, attributes } = props;
  const [open, setOpen] = useState(false);
  const [attribute, setAttribute] = useState<Schema["Attribute"]>();
  const [isWritten, setIsWritten] = useState(false);
  const start = (next: boolean) => {
    setOpen(next);
    setAttribute(undefined);
    setIsWritten(search.filter !== undefined);
  };
  return (
    <Popover.Root open={open} onOpenChange={start}>
      <Popover.Trigger
        className={
          search.filter
            ? "max-w-72 truncate rounded-t-[3px] border-b-2 border-moss bg-moss-pale px-1 py-0.5 font-address text-[14px]"
            : "rounded-t-[3px] border-b-2 border-dashed border-moss px-1 py-0.5 font-semibold text-moss hover:bg-bar"
        }
        aria-label={search.filter ? `Filter: ${search.filter}` : "Add a filter"}
      >
        {search.filter ? `filter: ${search.filter}` : "add a filter …"}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label="Another filter"
          className={popoverLook}
        >
          {attribute ? (
            <ClauseForm
              attribute={attribute}
              clause={{ attribute: attribute.name, how: "", values: [] }}
              place={search.where?.length ?? 0}
              search={search}
              isNew
              onDone={(text) => {
                setOpen(false);
                if (text !== undefined) props.onClause(text);
              }}
            />
          ) : isWritten ? (
            <Written {...props} onLeave={() => setIsWritten(false)} />
          ) : (
            <div className="w-[380px]">
              <AttributeChoice attributes={attributes} onChoose={setAttribute} />
              <p className="border-t border-rule p-2">
                <button type="button" className="text-[13px] underline" onClick={() => setIsWritten(true)}>
                  Write a filter
                </button>
              </p>
            </div>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Written({ search, whole, problem, onFilter, onLeave }: Props & { onLeave: () => void }) {
  const [text, setText] = useState(search.filter ?? "");
  return (
    <div className="w-[440px] p-4">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onFilter(text.trim() || undefined);
        }}
      >
        <label className="block font-semibold" htmlFor="filter-by-hand">
          Filter expression
        </label>
        <FilterField text={text} onChange={setText} search={search} describedBy="filter-problem" />
        <p id="filter-problem" role="alert" className="mt-1 text-[13px] text-madder">
          {problem?.part === "filter" ? `Column ${problem.column}: ${problem.message}.` : ""}
        </p>
        <div className="mt-2 flex gap-2">
          <Button look="primary" type="submit">
            Filter
          </Button>
          {search.filter !== undefined && (
            <Button
              onClick={() => {
                setText("");
                onFilter(undefined);
              }}
            >
              Remove the filter
            </Button>
          )}
          <Button onClick={onLeave}>Choose from a list instead</Button>
        </div>
      </form>
      {whole && (
        <p className="mt-3 border-t border-rule pt-2 text-[13px] text-second">
          The whole filter: <span className="font-address break-words text-ink">{whole}</span>
        </p>
      )}
    </div>
  );
}
