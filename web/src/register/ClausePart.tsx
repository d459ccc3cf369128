import { Popover } from "radix-ui";
import { useState } from "react";
import type { Wire } from "../api/client";
import type { RegisterSearch } from "../search";
import { readClause } from "./clause";
import { ClauseForm } from "./ClauseForm";
import { partLook, popoverLook } from "./SentencePart";

interface Props {
  text: string;
  place: number;
  /** What the clause says, once the server has said it. */
  words: string | undefined;
  search: RegisterSearch;
  attributes: Wire["AttributeWire"][];
  onChange: (text: string | undefined) => void;
}

/** One "and …" of the sentence; it opens to be changed or taken away. */
export function ClausePart({ text, place, words, search, attributes, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const clause = readClause(text);
  const attribute = attributes.find((one) => one.name === clause.attribute || one.name === `${clause.attribute}.value`);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={`And: ${words ?? text}`} className={partLook(true)}>
        and {words ?? text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={`And: ${words ?? text}`}
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
              Take it away
            </button>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
