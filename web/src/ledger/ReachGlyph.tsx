import type { Wire } from "../api/client";

interface Row {
  reach: Wire["ReachWire"] | null;
  pale: boolean;
}

/**
 * A wall with three cells on either side: named, unit, staff inside; named guests, partners, passers-by outside. The upper
 * row is the working copy, the lower the live copy. A cell beyond what the house allows is madder; one of which nobody
 * can tell is dotted. The words stand beside it, so it says nothing to a screen reader.
 */
export function ReachGlyph({ working, live }: { working: Wire["ReachWire"]; live: Wire["ReachWire"] | null }) {
  return (
    <svg width="84" height="20" viewBox="0 0 84 20" aria-hidden="true" className="shrink-0">
      <GlyphRow y={1} reach={working} pale />
      <rect x="39.5" y="0" width="2.5" height="20" className="fill-ink" />
      <GlyphRow y={11} reach={live} pale={false} />
    </svg>
  );
}

function GlyphRow({ reach, pale, y }: Row & { y: number }) {
  const cell = (x: number, level: number, bounds: Wire["BoundsWire"] | undefined, allowed: number | null) => {
    const filled = bounds !== undefined && level <= bounds.atLeast;
    const possible = bounds !== undefined && !filled && level <= bounds.atMost;
    const beyond = filled && allowed !== null && level > allowed;
    return (
      <rect
        key={x}
        x={x + 0.5}
        y={y + 0.5}
        width="10"
        height="7"
        strokeDasharray={possible ? "2 2" : undefined}
        strokeOpacity={reach === null ? 0.35 : 1}
        className={
          beyond
            ? "fill-madder stroke-madder"
            : filled
              ? pale
                ? "fill-[var(--inside-lane)] stroke-rule-strong"
                : "fill-moss stroke-moss"
              : "fill-transparent stroke-rule-strong"
        }
      />
    );
  };
  return (
    <>
      {[1, 2, 3].map((level) => cell((level - 1) * 13, level, reach?.inside, reach?.allowedInside ?? null))}
      {[1, 2, 3].map((level) => cell(44 + (level - 1) * 13, level, reach?.outside, reach?.allowedOutside ?? null))}
    </>
  );
}
