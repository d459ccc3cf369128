import { Link } from "@tanstack/react-router";
import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { memo, useEffect, useRef, type KeyboardEvent, type ReactNode } from "react";
import type { Schema } from "../api/client";
import { chipLook, FindingChips } from "../site-parts/FindingChip";
import { ReachGlyph } from "../site-parts/ReachGlyph";
import { capital, onDay } from "../ui/words";
import { underTitle } from "../site-parts/underTitle";
import type { RegisterSearch } from "../api/search";
import { Explained, Word } from "../words/Word";
import { ReachLegend } from "../words/Legends";
import { useLines } from "./useRegister";

const lineHeight = 46;
const row = "grid items-center";
const extraWidth = 140;

/** The standard columns, and the additional ones before the last. */
const template = (extra: number) =>
  `46px minmax(180px,2fr) 212px minmax(104px,0.8fr) 86px ${`${extraWidth}px `.repeat(extra)}minmax(214px,0.6fr)`;

interface Props {
  search: RegisterSearch;
  total: number;
  columns: Schema["Column"][];
  place: number;
  selected: ReadonlySet<number>;
  onPlace: (place: number, site: number | undefined) => void;
  onOpen: (site: number) => void;
  onSelect: (place: number, site: number) => void;
  /** Selects from the row selected last to this one, or all rows. */
  onSelectTo: (place: number | "all") => void;
  /** Sorts by attributes, as the address bar has them. */
  onSort: (sort: string) => void;
}

/** The table: bands of three rows, a double rule after the number, a bookmark at the row in focus. */
export function LedgerTable(props: Props) {
  const { search, total, columns, place, selected, onPlace, onOpen, onSelect, onSelectTo, onSort } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => lineHeight,
    overscan: 8,
    // The headings are in the same scroller, above the rows.
    scrollPaddingStart: 30,
    scrollPaddingEnd: 32,
  });
  // Additional columns may need more room than there is: then the table scrolls sideways.
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
      if (event.shiftKey) onSelectTo(next);
    } else if (event.key === " " && event.target === event.currentTarget) {
      event.preventDefault();
      const here = line(place);
      if (here) onSelect(place, here.id);
    } else if (event.key === "a" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      onSelectTo("all");
    } else if (event.key === "r" && !event.ctrlKey && !event.metaKey && !event.altKey) {
      // The action is in the details; the key only moves the focus there.
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
        <span role="columnheader" aria-label="Row" className="h-full border-r-4 border-double border-margin-rule" />
        <Head sorts={["title", "-title"]} sort={search.sort} onSort={onSort} className="pl-2" words="Site" />
        <Head
          sorts={["-view.outside,-view.inside", "view.outside,view.inside"]}
          sort={search.sort}
          onSort={onSort}
          words="access"
        >
          <Explained explanation={<ReachLegend />}>Access</Explained>{" "}
          <span className="font-normal">draft above published</span>
        </Head>
        <Head
          sorts={["owners.active.count", "-owners.active.count"]}
          sort={search.sort}
          onSort={onSort}
          words="the number of active owners"
        >
          <Word of="owner">Owners</Word>
        </Head>
        <Head sorts={["edited", "edited,title"]} sort={search.sort} onSort={onSort} words="Last edit" />
        {columns.map((column) => (
          <Head
            key={column.name}
            sorts={column.isSortable ? [column.name, `-${column.name}`] : []}
            sort={search.sort}
            onSort={onSort}
            className="truncate pr-2"
            words={capital(column.words)}
          />
        ))}
        <Head sorts={["worst"]} sort={search.sort ?? "worst"} onSort={onSort} words="urgency">
          <Word of="finding">Findings</Word>
        </Head>
      </div>
      <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize(), minWidth: sizes.minWidth }}>
        {shown.map((item) => (
          <Line
            key={item.key}
            place={item.index}
            top={item.start}
            line={line(item.index)}
            isHere={item.index === place}
            isSelected={selected.has(line(item.index)?.id ?? 0)}
            onPlace={onPlace}
            onSelect={onSelect}
            onSelectTo={onSelectTo}
            template={sizes.gridTemplateColumns}
          />
        ))}
      </div>
    </div>
  );
}

/** A column heading. A click sorts by it, a second one the other way round. The attributes are those of the address bar. */
function Head(props: {
  sorts: string[];
  sort: string | undefined;
  onSort: (sort: string) => void;
  /** What it sorts by; shown if there are no children. */
  words: string;
  className?: string;
  children?: ReactNode;
}) {
  const { sorts, sort, onSort, words, className, children } = props;
  const at = sorts.indexOf(sort ?? "");
  const next = sorts[(at + 1) % Math.max(1, sorts.length)];
  const isDown = (sorts[at] ?? "").startsWith("-") || sorts[at] === "edited" || sorts[at] === "worst";
  return (
    <span
      role="columnheader"
      aria-sort={at < 0 ? undefined : isDown ? "descending" : "ascending"}
      className={className}
      title={children ? undefined : words}
    >
      {children}
      {next !== undefined && (
        <button
          type="button"
          className={children ? "ml-1 min-h-6 min-w-6" : "min-h-6 max-w-full truncate font-semibold"}
          onClick={() => onSort(next)}
        >
          {children ? <span className="sr-only">Sort by {words}</span> : words}{" "}
          <span aria-hidden="true">{at < 0 ? "↕" : isDown ? "↓" : "↑"}</span>
        </button>
      )}
      {next === undefined && !children && words}
    </span>
  );
}

interface LineProps {
  place: number;
  top: number;
  line: Schema["RegisterRow"] | undefined;
  isHere: boolean;
  isSelected: boolean;
  template: string;
  onPlace: Props["onPlace"];
  onSelect: Props["onSelect"];
  onSelectTo: Props["onSelectTo"];
}

const Line = memo(function Line(props: LineProps) {
  const { place, top, line, isHere, isSelected, template, onPlace, onSelect, onSelectTo } = props;
  const band = Math.floor(place / 3) % 2 === 1;
  return (
    // The grid handles the keys; a click only moves the focus.
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus
    <div
      role="row"
      id={`line-${place}`}
      aria-rowindex={place + 2}
      aria-selected={isSelected}
      aria-current={isHere || undefined}
      onClick={() => onPlace(place, line?.id)}
      className={clsx(
        row,
        "absolute right-0 left-0 h-[46px] cursor-default",
        isHere || isSelected ? "bg-bookmark" : band ? "bg-bar" : "bg-sheet",
      )}
      style={{ transform: `translateY(${top}px)`, gridTemplateColumns: template }}
    >
      {/* The grid handles the space bar. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/interactive-supports-focus */}
      <span
        role="gridcell"
        title={isSelected ? "Selected: click to deselect" : "Click to select, with Shift to select up to here"}
        onClick={(event) => {
          event.stopPropagation();
          if (event.shiftKey) onSelectTo(place);
          else if (line) onSelect(place, line.id);
        }}
        className={clsx(
          "relative flex h-full cursor-pointer items-center justify-end border-r-4 border-double border-margin-rule pr-2 text-[12px]",
          isHere ? "font-bold" : "text-second",
        )}
      >
        {isHere && <span className="absolute inset-y-0 left-0 w-[7px] bg-brass" />}
        {isSelected && (
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

function Cells({ line }: { line: Schema["RegisterRow"] }) {
  const words = line.published?.words.split("; ") ?? ["never published", ""];
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
        <ReachGlyph draft={line.draft} published={line.published} />
        <span className="min-w-0 text-[12px]" title={line.published?.words}>
          <span className="block truncate">{words[0]}</span>
          <span className="block truncate">{words[1]}</span>
          <span className="sr-only">Draft: {line.draft.words}.</span>
        </span>
      </span>
      <span role="gridcell" className="min-w-0 pr-2 leading-tight">
        <span className="block truncate">{line.siteOwners}</span>
        {line.ownerNote && <span className="block truncate text-[12.5px] text-madder">{line.ownerNote}</span>}
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
          <FindingChips findings={line.findings} />
        )}
        {!line.fault && line.findings.length === 0 && <span className="text-[12.5px] text-moss">no finding</span>}
      </span>
    </>
  );
}
