import type { Wire } from "../api/client";

type PassageWire = Wire["PassageWire"];
type Axis = "inside" | "outside";

const laneHeight = 38;
const left = 8;
const width = 862;

interface Column {
  name: string;
  note: string;
  /** What the house allows behind this layer, and what is so in fact, as levels 0 to 3. */
  allowed: Record<Axis, number>;
  actual: Record<Axis, number>;
  words: Record<Axis, string>;
  line: "none" | "whole" | "broken";
  binds: boolean;
}

/** Host layers first, then the house's: what is so in fact is settled before the house is asked. */
function columnsOf(passage: PassageWire): Column[] {
  const actual = { inside: passage.asked.inside.atMost, outside: passage.asked.outside.atMost };
  const allowed = { ...actual };
  const columns: Column[] = [
    {
      name: "The site asks",
      note: "",
      actual: { ...actual },
      allowed: { ...allowed },
      words: { inside: passage.asked.insideWords, outside: passage.asked.outsideWords },
      line: "none",
      binds: false,
    },
  ];
  const steps = [...passage.steps].sort((a, b) => Number(a.enforcer === "house") - Number(b.enforcer === "house"));
  for (const step of steps) {
    for (const axis of ["inside", "outside"] as const) {
      // What is left behind a layer by itself, met with what was left before it.
      const left = Math.min(axis === "inside" ? step.behind.inside.atMost : step.behind.outside.atMost, allowed[axis]);
      allowed[axis] = left;
      if (step.enforcer === "host") actual[axis] = left;
    }
    const binds = step.binds.length > 0;
    columns.push({
      name: binds ? `${step.name} binds` : step.name,
      note: step.enforcer,
      actual: { ...actual },
      allowed: { ...allowed },
      words: { inside: step.insideWords ?? "unknown", outside: step.outsideWords ?? "unknown" },
      line: step.enforcer === "host" ? "whole" : "broken",
      binds,
    });
  }
  columns.push({
    name: "In fact",
    note: "",
    actual: { inside: passage.actual.inside.atMost, outside: passage.actual.outside.atMost },
    allowed: { inside: passage.allowed.inside.atMost, outside: passage.allowed.outside.atMost },
    words: { inside: passage.actual.insideWords, outside: passage.actual.outsideWords },
    line: "whole",
    binds: false,
  });
  return columns;
}

/**
 * Two lanes, staff and people outside, running from what the site asks for through the layers to what is so in fact.
 * Whole lines are held by the host, broken ones kept by the house; hatched is more than the house allows.
 */
export function Passage({ passage, label }: { passage: PassageWire; label: string }) {
  const columns = columnsOf(passage);
  const step = width / columns.length;
  const x = (place: number) => left + place * step;
  return (
    <figure>
      <svg
        viewBox="0 0 880 152"
        className="w-full"
        role="img"
        aria-label={`${label}: the same stands in the table below.`}
      >
        <defs>
          <pattern id="beyond" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="8" height="8" className="fill-madder-pale" />
            <rect width="4" height="8" className="fill-madder" />
          </pattern>
        </defs>
        {columns.map((column, place) => (
          <g key={`${column.name} ${place}`}>
            <Lane axis="inside" column={column} x={x(place)} y={24} width={step} />
            <Lane axis="outside" column={column} x={x(place)} y={84} width={step} />
          </g>
        ))}
        {columns.map((column, place) => (
          <g key={`${column.name} ${place}`}>
            {column.line !== "none" && (
              <line
                x1={x(place)}
                x2={x(place)}
                y1={18}
                y2={130}
                strokeWidth={column.binds ? 3 : 1.5}
                strokeDasharray={column.line === "broken" ? "5 4" : undefined}
                className={column.binds ? "stroke-madder" : "stroke-ink"}
              />
            )}
            <text
              x={x(place) + 6}
              y={12}
              className={column.binds ? "fill-madder text-[11.5px] font-bold" : "fill-ink text-[11.5px] font-bold"}
            >
              {shortened(column.name, step)}
            </text>
            <Word text={column.words.inside} x={x(place) + 6} y={48} />
            <Word text={column.words.outside} x={x(place) + 6} y={108} />
          </g>
        ))}
        <text x={left} y={148} className="fill-second text-[11.5px]">
          Upper lane: staff. Lower lane: people outside. Whole line: held by the host. Broken line: a house limit, kept
          by people. Hatched: more than the house allows.
        </text>
      </svg>
    </figure>
  );
}

const shortened = (text: string, step: number) => {
  const most = Math.max(6, Math.floor(step / 6.3));
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
};

function Lane(props: { axis: Axis; column: Column; x: number; y: number; width: number }) {
  const { column, axis } = props;
  const height = (level: number) => (laneHeight * level) / 3;
  const actual = height(column.actual[axis]);
  const allowed = Math.min(actual, height(column.allowed[axis]));
  const base = props.y + laneHeight;
  return (
    <>
      <rect
        x={props.x}
        y={base - allowed}
        width={props.width}
        height={allowed}
        className={axis === "inside" ? "fill-[var(--inside-lane)]" : "fill-[var(--outside-lane)]"}
      />
      {actual > allowed && (
        <rect
          x={props.x}
          y={base - actual}
          width={props.width}
          height={actual - allowed}
          fill="url(#beyond)"
          className="stroke-madder"
        />
      )}
      <line x1={props.x} x2={props.x + props.width} y1={base} y2={base} className="stroke-rule-strong" />
    </>
  );
}

function Word({ text, x, y }: { text: string; x: number; y: number }) {
  return (
    <>
      <rect
        x={x - 3}
        y={y - 13}
        width={text.length * 6.1 + 8}
        height={18}
        rx="2"
        className="fill-sheet"
        fillOpacity={0.9}
      />
      <text x={x} y={y} className="fill-ink text-[11.5px]">
        {text}
      </text>
    </>
  );
}
