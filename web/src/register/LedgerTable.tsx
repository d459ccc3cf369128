import { Link } from "@tanstack/react-router";
import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { memo, useEffect, useRef, type KeyboardEvent } from "react";
import type { Wire } from "../api/client";
import { chipLook, FindingChip } from "../ledger/Chip";
import { ReachGlyph } from "../ledger/ReachGlyph";
import { onDay, underTitle } from "../ledger/words";
import type { RegisterSearch } from "../search";
import { useLines } from "./useRegister";

const lineHeight = 46;
const row = "grid items-center";
const extraWidth = 140;

/** The columns that are always there, and those that were asked for before the last. */
const template = (extra: number) =>
  `46px minmax(180px,2fr) 212px minmax(104px,0.8fr) 86px ${`${extraWidth}px `.repeat(extra)}minmax(214px,0.6fr)`;

interface Props {
  search: RegisterSearch;
  total: number;
  columns: Wire["ColumnWire"][];
  place: number;
  marked: ReadonlySet<number>;
  onPlace: (place: number, site: number | undefined) => void;
  onOpen: (site: number) => void;
  onMark: (place: number, site: number) => void;
  /** Marks from the line marked last to this one, or all lines. */
  onMarkTo: (place: number | "all") => void;
}

/** The ruled sheet: bands of three lines, a double red rule after the number, a bookmark at the line in focus. */
export function LedgerTable({ search, total, columns, place, marked, onPlace, onOpen, onMark, onMarkTo }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => lineHeight,
    overscan: 8,
    // The headings stand in the same scroller, above the lines and over them.
    scrollPaddingStart: 30,
    scrollPaddingEnd: 32,
  });
  // Named columns may need more room than there is: then the sheet moves sideways.
  const sizes = { gridTemplateColumns: template(columns.length), minWidth: 842 + columns.length * extraWidth };
  const shown = virtual.getVirtualItems();
  const line = useLines(search, shown[0]?.index ?? 0, shown[shown.length - 1]?.index ?? 0);

  useEffect(() => {
    if (place >= 0 && place < total) virtual.scrollToIndex(place, { align: "auto" });
  }, [place, total, virtual]);

  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10, Home: -total, End: total }[event.key];
    if (step !== undefined && total > 0) {
      event.preventDefault();
      const next = Math.min(total - 1, Math.max(0, place + step));
      onPlace(next, line(next)?.id);
      if (event.shiftKey) onMarkTo(next);
    } else if (event.key === " " && event.target === event.currentTarget) {
      event.preventDefault();
      const here = line(place);
      if (here) onMark(place, here.id);
    } else if (event.key === "a" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      onMarkTo("all");
    } else if (event.key === "r" && !event.ctrlKey && !event.metaKey && !event.altKey) {
      // The deed stands in the margin; the letter leads there and does nothing by itself.
      document.getElementById("remedy")?.focus();
    } else if (event.key === "Enter" && event.target === event.currentTarget) {
      const here = line(place);
      if (here) onOpen(here.id);
    }
  };

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Sites"
      aria-multiselectable="true"
      aria-rowcount={total + 1}
      aria-activedescendant={place >= 0 && total > 0 ? `line-${place}` : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="min-h-0 flex-1 overflow-auto focus-visible:-outline-offset-2"
    >
      <div
        role="row"
        aria-rowindex={1}
        style={sizes}
        className={clsx(
          row,
          "sticky top-0 z-10 h-[30px] border-b border-rule-strong bg-sheet text-[12px] font-semibold text-second",
        )}
      >
        <span role="columnheader" aria-label="Line" className="h-full border-r-4 border-double border-margin-rule" />
        <span role="columnheader" className="pl-2">
          Site
        </span>
        <span role="columnheader">
          Who gets in <span className="font-normal">(words: live copy)</span>
        </span>
        <span role="columnheader">Key holders</span>
        <span role="columnheader">Last edit</span>
        {columns.map((column) => (
          <span
            key={column.name}
            role="columnheader"
            className="truncate pr-2 first-letter:uppercase"
            title={column.words}
          >
            {column.words}
          </span>
        ))}
        <span role="columnheader">What is wrong</span>
      </div>
      <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize(), minWidth: sizes.minWidth }}>
        {shown.map((item) => (
          <Line
            key={item.key}
            place={item.index}
            top={item.start}
            line={line(item.index)}
            isHere={item.index === place}
            isMarked={marked.has(line(item.index)?.id ?? 0)}
            onPlace={onPlace}
            onMark={onMark}
            onMarkTo={onMarkTo}
            template={sizes.gridTemplateColumns}
          />
        ))}
      </div>
    </div>
  );
}

interface LineProps {
  place: number;
  top: number;
  line: Wire["LineWire"] | undefined;
  isHere: boolean;
  isMarked: boolean;
  template: string;
  onPlace: Props["onPlace"];
  onMark: Props["onMark"];
  onMarkTo: Props["onMarkTo"];
}

const Line = memo(function Line(props: LineProps) {
  const { place, top, line, isHere, isMarked, template, onPlace, onMark, onMarkTo } = props;
  const band = Math.floor(place / 3) % 2 === 1;
  return (
    // The grid itself takes the keys; a click only moves the bookmark.
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus
    <div
      role="row"
      id={`line-${place}`}
      aria-rowindex={place + 2}
      aria-selected={isMarked}
      aria-current={isHere || undefined}
      onClick={() => onPlace(place, line?.id)}
      className={clsx(
        row,
        "absolute right-0 left-0 h-[46px] cursor-default",
        isHere || isMarked ? "bg-bookmark" : band ? "bg-bar" : "bg-sheet",
      )}
      style={{ transform: `translateY(${top}px)`, gridTemplateColumns: template }}
    >
      {/* The grid takes the space bar for this. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus */}
      <span
        role="gridcell"
        title={isMarked ? "Marked: click to unmark" : "Click to mark, with Shift to mark up to here"}
        onClick={(event) => {
          event.stopPropagation();
          if (event.shiftKey) onMarkTo(place);
          else if (line) onMark(place, line.id);
        }}
        className={clsx(
          "relative flex h-full cursor-pointer items-center justify-end border-r-4 border-double border-margin-rule pr-2 text-[12px]",
          isHere ? "font-bold" : "text-second",
        )}
      >
        {isHere && <span className="absolute inset-y-0 left-0 w-[7px] bg-brass" />}
        {isMarked && (
          <svg
            viewBox="0 0 12 12"
            className="absolute left-2.5 size-3 fill-none stroke-ink stroke-2"
            aria-hidden="true"
          >
            <path d="M1.5 6.5 4.5 10 10.5 2" />
          </svg>
        )}
        {place + 1}
      </span>
      {line ? (
        <Cells line={line} />
      ) : (
        <span role="gridcell" className="pl-2 text-second">
          …
        </span>
      )}
    </div>
  );
});

function Cells({ line }: { line: Wire["LineWire"] }) {
  const words = line.live?.words.split("; ") ?? ["never live", ""];
  return (
    <>
      <span role="gridcell" className="min-w-0 pr-3 pl-2">
        <Link
          to="/sites/$site"
          params={{ site: line.id.toString() }}
          tabIndex={-1}
          className="block truncate font-semibold hover:underline"
          onClick={(event) => event.stopPropagation()}
        >
          <bdi>{line.title}</bdi>
        </Link>
        <span className="block truncate font-address text-[12.5px] text-second">{underTitle(line)}</span>
      </span>
      <span role="gridcell" className="flex min-w-0 items-center gap-2.5 pr-2 text-[12.5px] leading-tight">
        <ReachGlyph working={line.working} live={line.live} />
        <span className="min-w-0 text-[12px]" title={line.live?.words}>
          <span className="block truncate">{words[0]}</span>
          <span className="block truncate">{words[1]}</span>
          <span className="sr-only">Working copy: {line.working.words}.</span>
        </span>
      </span>
      <span role="gridcell" className="min-w-0 pr-2 leading-tight">
        <span className="block truncate">{line.keyHolders}</span>
        {line.keyNote && <span className="block truncate text-[12.5px] text-madder">{line.keyNote}</span>}
      </span>
      <span role="gridcell" className="text-[13px] whitespace-nowrap">
        {line.lastEdit ? onDay(line.lastEdit) : "not known"}
      </span>
      {line.cells.map((cell, at) => (
        <span key={at} role="gridcell" className="truncate pr-2 text-[13px]" title={cell}>
          {cell}
        </span>
      ))}
      <span role="gridcell" className="flex max-h-[42px] min-w-0 flex-wrap gap-x-1 gap-y-0.5 overflow-hidden">
        {line.underWay > 0 && <span className={`${chipLook} border-slate text-slate`}>under way</span>}
        {line.fault ? (
          <span className="text-[12.5px] font-semibold text-madder">cannot be computed</span>
        ) : (
          line.findings.map((finding) => <FindingChip key={finding.rule} finding={finding} />)
        )}
        {!line.fault && line.findings.length === 0 && <span className="text-[12.5px] text-moss">in order</span>}
      </span>
    </>
  );
}
