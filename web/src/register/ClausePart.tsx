import { Popover } from "radix-ui";
import { useState } from "react";
import type { Schema } from "../api/client";
import type { RegisterSearch } from "../api/search";
import { readClause } from "./clause";
import { ClauseForm } from "./ClauseForm";
import { partLook } from "../ui/SentencePart";
import { popoverLook } from "../ui/popoverLook";

interface Props {
  text: string;
  place: number;
  /** The filter in words, once the server has answered. */
  words: string | undefined;
  search: RegisterSearch;
  attributes: Schema["Attribute"][];
  onChange: (text: string | undefined) => void;
}

/** One added filter of the sentence; it opens to be changed or removed. */
export function ClausePart({ text, place, words, search, attributes, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const clause = readClause(text);
  const attribute = attributes.find((one) => one.name === clause.attribute || one.name === `${clause.attribute}.value`);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={`Filter: ${words ?? text}`} className={partLook(true)}>
        and {words ?? text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={`Filter: ${words ?? text}`}
          className={popoverLook}
        >
          {attribute ? (
            <ClauseForm
              attribute={attribute}
              clause={clause}
              place={place}
              search={search}
              isNew={false}
              onDone={(next) => {
                setOpen(false);
                onChange(next);
              }}
            />
          ) : (
            <button type="button" className="p-3 underline" onClick={() => onChange(undefined)}>
              Remove the filter
            </button>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
