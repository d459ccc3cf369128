import type { Kind } from "./useStart";

/** What comes with a kind of site, drawn: its pages, its group, its mail alias. Hidden from screen readers; the text beside it says the same. */
export function KindPicture({ kind }: { kind: Kind }) {
  const pages = Math.min(3, kind.starterPages.length);
  return (
    <svg width="92" height="44" viewBox="0 0 92 44" aria-hidden="true" className="shrink-0">
      {Array.from({ length: pages }, (_, place) => (
        <rect
          key={place}
          x={10 + (pages - place) * 4}
          y={2 + (pages - 1 - place) * 3}
          width="26"
          height="32"
          className="fill-sheet stroke-rule-strong"
        />
      ))}
      <rect x="6" y="9" width="30" height="33" rx="1.5" className="fill-moss-pale stroke-moss" strokeWidth="1.5" />
      <path d="M11 17h20M11 23h20M11 29h13" className="stroke-moss" strokeWidth="1.5" />
      {kind.makesGroup && (
        <g className="fill-slate-pale stroke-slate" strokeWidth="1.5">
          <circle cx="62" cy="14" r="4.5" />
          <circle cx="73" cy="14" r="4.5" />
          <path d="M54 29c0-6 4-9 8-9s8 3 8 9zM70 29c0-3-1-5-2-6 1-2 3-3 5-3 4 0 8 3 8 9z" />
        </g>
      )}
      {kind.aliasDomain && (
        <g className="fill-ochre-pale stroke-ochre" strokeWidth="1.3">
          <rect x="58" y="32" width="18" height="10" />
          <path d="M58 32l9 6 9-6" className="fill-transparent" />
        </g>
      )}
    </svg>
  );
}
