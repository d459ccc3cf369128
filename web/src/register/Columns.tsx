import { Popover } from "radix-ui";
import { useState } from "react";
import type { RegisterSearch } from "../api/search";
import { useAttributes, type SentenceChange } from "./Sentence";
import { Find } from "../ui/SentencePart";
import { popoverLook } from "../ui/popoverLook";

const most = 6;

/** Chooses attributes to show in additional columns. */
export function Columns({ search, onChange }: { search: RegisterSearch; onChange: (change: SentenceChange) => void }) {
  const attributes = useAttributes().data ?? [];
  const [find, setFind] = useState("");
  const shown = search.show ?? [];
  const toggle = (name: string) => {
    const next = shown.includes(name) ? shown.filter((one) => one !== name) : [...shown, name];
    onChange({ show: next.length > 0 ? next : undefined });
  };
  // A list has one column, however many parts its elements have.
  const choices = attributes
    .map((one) => ({ name: one.canSort ? one.name : one.name.slice(0, one.name.lastIndexOf(".")), words: one.words }))
    .filter((one, at, all) => all.findIndex((other) => other.name === one.name) === at)
    .filter((one) => `${one.name} ${one.words}`.toLowerCase().includes(find.trim().toLowerCase()));
  return (
    <Popover.Root>
      <Popover.Trigger className="min-h-6 underline decoration-rule-strong underline-offset-4">
        Columns{shown.length > 0 ? ` (${shown.length} more)` : ""}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          collisionPadding={8}
          aria-label="Columns"
          className={`${popoverLook} w-72 pb-2`}
        >
          <Find value={find} onChange={setFind} label="Find a column" />
          <ul aria-label="Columns that can be shown">
            {choices.map((one) => (
              <li key={one.name}>
                <label className="flex min-h-7 items-center gap-2 px-3 hover:bg-bar">
                  <input
                    type="checkbox"
                    className="size-4"
                    checked={shown.includes(one.name)}
                    disabled={!shown.includes(one.name) && shown.length >= most}
                    onChange={() => toggle(one.name)}
                  />
                  {one.words}
                </label>
              </li>
            ))}
          </ul>
          {shown.length >= most && <p className="px-3 pt-1 text-[12.5px] text-second">At most 6 more.</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
