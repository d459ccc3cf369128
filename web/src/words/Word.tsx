import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";
import { popoverLook } from "../ui/popoverLook";
import { idOf, meaningOf } from "./glossary";

/**
 * A defined word that explains itself on hover, focus and touch.
 * @example <Word of="active owner">active owners</Word>
 */
export function Word({ of, children, className }: { of: string; children?: ReactNode; className?: string }) {
  return (
    <Explained
      className={className}
      explanation={
        <>
          <b>{of}</b>: {meaningOf(of)}{" "}
          <Link to="/words" hash={idOf(of)} className="underline">
            All words
          </Link>
        </>
      }
    >
      {children ?? of}
    </Explained>
  );
}

interface Props {
  explanation: ReactNode;
  children: ReactNode;
  className?: string | undefined;
}

/** Text with an explanation of any kind, such as the legend of a picture. */
export function Explained({ explanation, children, className }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={clsx("cursor-help border-b border-dotted border-rule-strong text-left", className)}
        onMouseEnter={() => setOpen(true)}
        onMouseLeave={() => setOpen(false)}
        onFocus={(event) => {
          const isReturning = event.relatedTarget?.closest("[data-radix-popper-content-wrapper]");
          if (!isReturning && event.currentTarget.matches(":focus-visible")) setOpen(true);
        }}
        onClick={(event) => {
          // Hovering has opened it already: a click must not close it again.
          event.preventDefault();
          setOpen(true);
        }}
      >
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="bottom"
          align="start"
          collisionPadding={8}
          className={clsx(popoverLook, "max-w-[340px] px-3 py-2 text-[13px] font-normal")}
          onOpenAutoFocus={(event) => event.preventDefault()}
          onMouseEnter={() => setOpen(true)}
          onMouseLeave={() => setOpen(false)}
        >
          {explanation}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
