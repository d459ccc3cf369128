import clsx from "clsx";
import { Popover } from "radix-ui";
import { popoverLook } from "./popoverLook";
import { useState } from "react";

export interface Choice {
  key: string;
  words: string;
  count?: number;
}

interface Props {
  /** The name of the part for screen readers. */
  label: string;
  /** The neutral choice, which filters nothing. */
  any: string;
  choices: Choice[];
  chosen: string | undefined;
  onChoose: (key: string | undefined) => void;
  /** True if there are so many choices that a search field is needed. */
  isSearched?: boolean;
}

/** The style of a part of the sentence: quiet for the neutral choice, set in moss for a filter. */
export const partLook = (isChosen: boolean) =>
  clsx(
    "rounded-t-[3px] border-b-2 px-1 py-0.5 text-left",
    isChosen
      ? "border-moss bg-moss-pale font-semibold text-ink"
      : "border-dashed border-rule-strong text-second hover:bg-bar",
  );

/** One underlined part of the sentence; it opens the choices, each with the number of sites it leaves. */
export function SentencePart({ label, any, choices, chosen, onChoose, isSearched }: Props) {
  const [open, setOpen] = useState(false);
  const [find, setFind] = useState("");
  const words = choices.find((choice) => choice.key === chosen)?.words ?? chosen ?? any;
  const choose = (key: string | undefined) => {
    setOpen(false);
    onChoose(key);
  };
  const shown = isSearched
    ? choices.filter((choice) => choice.words.toLowerCase().includes(find.trim().toLowerCase()))
    : choices;
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setFind("");
      }}
    >
      <Popover.Trigger aria-label={`${label}: ${words}`} className={partLook(chosen !== undefined)}>
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={label}
          className={clsx(popoverLook, "min-w-64 py-1")}
        >
          {isSearched && <Find value={find} onChange={setFind} label={`Search: ${label}`} />}
          <ul>
            <Row words={any} chosen={chosen === undefined} onClick={() => choose(undefined)} />
            {shown.map((choice) => (
              <Row
                key={choice.key}
                words={choice.words}
                count={choice.count}
                chosen={choice.key === chosen}
                onClick={() => choose(choice.key)}
              />
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

export function Find(props: { value: string; onChange: (text: string) => void; label: string }) {
  return (
    <input
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
      aria-label={props.label}
      placeholder="part of a name"
      className="m-2 block w-[calc(100%-16px)] rounded-[4px] border border-rule-strong bg-sheet px-2 py-1 text-[14px] placeholder:text-second"
    />
  );
}

function Row(props: { words: string; count?: number | undefined; chosen: boolean; onClick: () => void }) {
  return (
    <li>
      <button
        type="button"
        aria-pressed={props.chosen}
        onClick={props.onClick}
        className={clsx(
          "flex w-full items-baseline justify-between gap-6 px-3 py-1 text-left hover:bg-bar focus-visible:-outline-offset-2",
          props.chosen && "font-bold",
        )}
      >
        <span>{props.words}</span>
        {props.count !== undefined && <span className="text-second">{props.count.toLocaleString("en-GB")}</span>}
      </button>
    </li>
  );
}
