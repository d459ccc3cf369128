import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState } from "react";

export interface Choice {
  key: string;
  words: string;
  count?: number;
}

interface Props {
  /** What the part is about, for those who cannot see it underlined. */
  label: string;
  /** The words where nothing is chosen. */
  any: string;
  choices: Choice[];
  chosen: string | undefined;
  onChoose: (key: string | undefined) => void;
}

/** One underlined part of the sentence; it opens what else it could be, with what that would leave. */
export function SentencePart({ label, any, choices, chosen, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const words = choices.find((choice) => choice.key === chosen)?.words ?? chosen ?? any;
  const choose = (key: string | undefined) => {
    setOpen(false);
    onChoose(key);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label={`${label}: ${words}`}
        className={clsx(
          "rounded-t-[3px] border-b-2 px-1 py-0.5 text-left",
          chosen === undefined
            ? "border-dashed border-rule-strong text-second hover:bg-bar"
            : "border-moss bg-moss-pale font-semibold text-ink",
        )}
      >
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={label}
          className="z-20 max-h-[60vh] min-w-64 overflow-auto rounded-[5px] border border-rule-strong bg-sheet py-1 text-ink"
        >
          <ul>
            <Row words={any} chosen={chosen === undefined} onClick={() => choose(undefined)} />
            {choices.map((choice) => (
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
