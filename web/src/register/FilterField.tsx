import clsx from "clsx";
import { useId, useRef, useState, type KeyboardEvent } from "react";
import type { RegisterSearch } from "../api/search";
import { useCompletion } from "./useCompletion";

interface Props {
  text: string;
  onChange: (text: string) => void;
  search: RegisterSearch;
  describedBy: string;
  id?: string;
  placeholder?: string;
  /** In a rule, which cannot read what rules find. */
  inRule?: boolean;
  /** On a page the suggestions float above what follows, so that nothing moves when they come and go. */
  floats?: boolean;
}

/** A field for a filter expression; it offers what can come next. */
export function FilterField({
  text,
  onChange,
  search,
  describedBy,
  id: fieldId = "filter-by-hand",
  placeholder = 'owners[standing eq "left"]',
  floats = false,
  inRule = false,
}: Props) {
  const [caret, setCaret] = useState(text.length);
  const [active, setActive] = useState(-1);
  const [isOffering, setIsOffering] = useState(true);
  const [isFocused, setFocused] = useState(false);
  const field = useRef<HTMLTextAreaElement>(null);
  const id = useId();
  const { unit, reach, rule, status, where } = search;
  const completion = useCompletion(text, caret, { unit, reach, rule, status, where }, inRule);
  const options = isOffering && (isFocused || !floats) ? (completion?.options ?? []) : [];
  const accept = (insert: string) => {
    if (!completion) return;
    const next = completion.from + insert.length;
    onChange(text.slice(0, completion.from) + insert + text.slice(completion.to));
    setCaret(next);
    setActive(-1);
    requestAnimationFrame(() => field.current?.setSelectionRange(next, next));
  };
  const onKey = (event: KeyboardEvent<HTMLTextAreaElement>) => {
    const chosen = options[active];
    if ((event.key === "ArrowDown" || event.key === "ArrowUp") && options.length > 0) {
      const step = event.key === "ArrowDown" ? 1 : -1;
      setActive((at) => (at + step + options.length + (at < 0 && step < 0 ? 1 : 0)) % options.length);
    } else if (event.key === "ArrowDown") setIsOffering(true);
    else if ((event.key === "Enter" || event.key === "Tab") && chosen && !event.shiftKey) accept(chosen.insert);
    else if (event.key === "Enter") event.currentTarget.form?.requestSubmit();
    else if (event.key === "Escape" && options.length > 0) {
      event.stopPropagation();
      setIsOffering(false);
      setActive(-1);
    } else return;
    event.preventDefault();
  };
  return (
    <div className="relative">
      <textarea
        ref={field}
        id={fieldId}
        value={text}
        rows={3}
        spellCheck={false}
        placeholder={placeholder}
        aria-describedby={describedBy}
        aria-autocomplete="list"
        aria-controls={options.length > 0 ? id : undefined}
        aria-activedescendant={active >= 0 && active < options.length ? `${id}-${active}` : undefined}
        onKeyDown={onKey}
        onFocus={() => setFocused(true)}
        onBlur={() => setFocused(false)}
        onSelect={(event) => setCaret(event.currentTarget.selectionEnd)}
        onChange={(event) => {
          onChange(event.target.value);
          setCaret(event.target.selectionEnd);
          setIsOffering(true);
          setActive(-1);
        }}
        className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2 py-1.5 font-address text-[13px] font-normal placeholder:text-second"
      />
      {options.length > 0 && (
        <div
          id={id}
          role="listbox"
          aria-label="Suggestions"
          className={clsx(
            "rounded-[4px] border border-rule text-[13px] font-normal",
            floats ? "absolute inset-x-0 top-full z-20 mt-0.5 bg-sheet shadow-md" : "mt-2",
          )}
        >
          {options.map((option, place) => (
            <div
              key={option.insert}
              id={`${id}-${place}`}
              role="option"
              tabIndex={-1}
              aria-selected={place === active}
              onMouseDown={(event) => {
                event.preventDefault();
                accept(option.insert);
              }}
              className={clsx(
                "flex min-h-6 cursor-pointer items-baseline gap-3 px-2 hover:bg-bar",
                place === active && "bg-bookmark",
              )}
            >
              <span className="max-w-[60%] truncate font-address">{option.insert.trim()}</span>
              <span className="min-w-0 flex-1 truncate text-second">
                {option.count?.toLocaleString("en-GB") ?? option.says}
              </span>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
