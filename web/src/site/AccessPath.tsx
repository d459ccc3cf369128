import type { Schema } from "../api/client";

type AccessPathResponse = Schema["AccessPath"];
type Axis = "inside" | "outside";

const laneHeight = 38;
const left = 8;
const width = 862;

interface Column {
  name: string;
  note: string;
  /** What policy allows after this layer, and what is effective, as levels 0 to 3. */
  allowed: Record<Axis, number>;
  effective: Record<Axis, number>;
  words: Record<Axis, string>;
  line: "none" | "whole" | "broken";
  limits: boolean;
}

/** Host layers first, then policy: effective access depends on host layers only. */
function columnsOf(accessPath: AccessPathResponse): Column[] {
  const effective = { inside: accessPath.set.inside.atMost, outside: accessPath.set.outside.atMost };
  const allowed = { ...effective };
  const columns: Column[] = [
    {
      name: "Set on the site",
      note: "",
      effective: { ...effective },
      allowed: { ...allowed },
      words: { inside: accessPath.set.insideLabels, outside: accessPath.set.outsideLabels },
      line: "none",
      limits: false,
    },
  ];
  const steps = [...accessPath.steps].sort((a, b) => Number(a.enforcer === "policy") - Number(b.enforcer === "policy"));
  for (const step of steps) {
    for (const axis of ["inside", "outside"] as const) {
      // What this layer lets through, combined with the layers before it.
      const left = Math.min(axis === "inside" ? step.behind.inside.atMost : step.behind.outside.atMost, allowed[axis]);
      allowed[axis] = left;
      if (step.enforcer === "host") effective[axis] = left;
    }
    const limits = step.limits.length > 0;
    columns.push({
      name: limits ? `${step.name} limits it` : step.name,
      note: step.enforcer,
      effective: { ...effective },
      allowed: { ...allowed },
      words: { inside: step.insideLabels ?? "unknown", outside: step.outsideLabels ?? "unknown" },
      line: step.enforcer === "host" ? "whole" : "broken",
      limits,
    });
  }
  columns.push({
    name: "Effective",
    note: "",
    effective: { inside: accessPath.effective.inside.atMost, outside: accessPath.effective.outside.atMost },
    allowed: { inside: accessPath.allowed.inside.atMost, outside: accessPath.allowed.outside.atMost },
    words: { inside: accessPath.effective.insideLabels, outside: accessPath.effective.outsideLabels },
    line: "whole",
    limits: false,
  });
  return columns;
}

/** Two bands, staff above and people from outside below, from what is set on the site through the layers to what is effective. Solid lines are layers enforced by the host, broken lines are policy only; hatched access exceeds policy. */
export function AccessPath({ accessPath, label }: { accessPath: AccessPathResponse; label: string }) {
  const columns = columnsOf(accessPath);
  const step = width / columns.length;
  const x = (place: number) => left + place * step;
  return (
    <figure>
      <svg
        viewBox="0 0 880 152"
        className="w-full"
        role="img"
        aria-label={`${label}: the table below has the same facts.`}
      >
        <defs>
          <pattern id="exceeds" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="8" height="8" className="fill-madder-pale" />
            <rect width="4" height="8" className="fill-madder" />
          </pattern>
        </defs>
        {columns.map((column, place) => (
          <g key={`${column.name} ${place}`}>
            <Band axis="inside" column={column} x={x(place)} y={24} width={step} />
            <Band axis="outside" column={column} x={x(place)} y={84} width={step} />
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
                strokeWidth={column.limits ? 3 : 1.5}
                strokeDasharray={column.line === "broken" ? "5 4" : undefined}
                className={column.limits ? "stroke-madder" : "stroke-ink"}
              />
            )}
            <text
              x={x(place) + 6}
              y={12}
              className={column.limits ? "fill-madder text-[11.5px] font-bold" : "fill-ink text-[11.5px] font-bold"}
            >
              {shortened(column.name, step)}
            </text>
            <Word text={column.words.inside} x={x(place) + 6} y={48} />
            <Word text={column.words.outside} x={x(place) + 6} y={108} />
          </g>
        ))}
        <text x={left} y={148} className="fill-second text-[11.5px]">
          Upper band: staff. Lower band: people from outside. Solid line: enforced by the host. Broken line: policy
          only. Hatched: exceeds policy.
        </text>
      </svg>
    </figure>
  );
}

const shortened = (text: string, step: number) => {
  const most = Math.max(6, Math.floor(step / 6.3));
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
};

function Band(props: { axis: Axis; column: Column; x: number; y: number; width: number }) {
  const { column, axis } = props;
  const height = (level: number) => (laneHeight * level) / 3;
  const effective = height(column.effective[axis]);
  const allowed = Math.min(effective, height(column.allowed[axis]));
  const base = props.y + laneHeight;
  return (
    <>
      <rect
        x={props.x}
        y={base - allowed}
        width={props.width}
        height={allowed}
        className={axis === "inside" ? "fill-[var(--inside-band)]" : "fill-[var(--outside-lane)]"}
      />
      {effective > allowed && (
        <rect
          x={props.x}
          y={base - effective}
          width={props.width}
          height={effective - allowed}
          fill="url(#exceeds)"
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
