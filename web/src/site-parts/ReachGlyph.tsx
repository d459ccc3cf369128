import type { Schema } from "../api/client";

interface Row {
  reach: Schema["ReachCell"] | null;
  pale: boolean;
}

/** Two rows of six cells: named people, unit, all staff on the left; named guests, partners, anonymous visitors on the right. The upper row is the draft, the lower the published site. A red cell exceeds policy; a dotted one cannot tell. It is hidden from screen readers, because the text next to it says the same. */
export function ReachGlyph({
  draft,
  published,
}: {
  draft: Schema["ReachCell"];
  published: Schema["ReachCell"] | null;
}) {
  return (
    <svg width="84" height="20" viewBox="0 0 84 20" aria-hidden="true" className="shrink-0">
      <GlyphRow y={1} reach={draft} pale />
      <rect x="39.5" y="0" width="2.5" height="20" className="fill-ink" />
      <GlyphRow y={11} reach={published} pale={false} />
    </svg>
  );
}

function GlyphRow({ reach, pale, y }: Row & { y: number }) {
  const cell = (x: number, level: number, bounds: Schema["Bounds"] | undefined, allowed: number | null) => {
    const filled = bounds !== undefined && level <= bounds.atLeast;
    const possible = bounds !== undefined && !filled && level <= bounds.atMost;
    const exceeds = filled && allowed !== null && level > allowed;
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
          exceeds
            ? "fill-madder stroke-madder"
            : filled
              ? pale
                ? "fill-[var(--inside-band)] stroke-rule-strong"
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
