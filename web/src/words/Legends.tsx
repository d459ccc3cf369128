import type { Schema } from "../api/client";
import { ReachGlyph } from "../site-parts/ReachGlyph";

const exact = (level: number) => ({ atLeast: level, atMost: level });

const cell = (inside: number, outside: number, allowedOutside: number): Schema["ReachCell"] => ({
  inside: exact(inside),
  outside: exact(outside),
  allowedInside: 3,
  allowedOutside,
  words: "",
});

const examples: { draft: Schema["ReachCell"]; published: Schema["ReachCell"] | null; words: string }[] = [
  {
    draft: cell(1, 0, 3),
    published: cell(3, 0, 3),
    words: "Draft: named people. Published site: all staff, no one from outside.",
  },
  { draft: cell(3, 0, 3), published: cell(3, 3, 3), words: "Published site: all staff and anonymous visitors." },
  {
    draft: cell(1, 0, 1),
    published: cell(3, 3, 1),
    words: "Red: access that exceeds policy. Here policy allows named guests only.",
  },
  {
    draft: cell(1, 0, 3),
    published: { ...cell(1, 0, 3), inside: { atLeast: 1, atMost: 3 } },
    words: "Dotted: cannot tell. At least named people, at most all staff.",
  },
];

/** How to read the cells of the column Access. */
export function ReachLegend() {
  return (
    <>
      <p className="mt-1">
        Upper row: the draft. Lower row: the published site. Left of the bar, inside: named people, the site's unit, all
        staff. Right of the bar, from outside: named guests, partners, anonymous visitors. A filled cell has access.
      </p>
      <ul className="mt-2 space-y-1.5">
        {examples.map(({ draft, published, words }) => (
          <li key={words} className="flex items-center gap-3">
            <ReachGlyph draft={draft} published={published} />
            <span>{words}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** How to read the picture of an access path. */
export function AccessPathLegend() {
  return (
    <p className="mt-1">
      The access runs from left to right: first what is set on the site, then each layer of limits, last the effective
      access. The upper band is staff, the lower band people from outside; the higher a band, the wider the access. A
      solid line is a layer that the host enforces, a broken line is policy only. A red line limits the access. A
      hatched part exceeds policy.
    </p>
  );
}
