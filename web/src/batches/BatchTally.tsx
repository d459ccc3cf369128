import clsx from "clsx";
import type { Schema } from "../api/client";
import { outcomesLabel } from "./words";

type Outcome = Schema["BatchOutcome"];

const ink: Record<Outcome, string> = {
  done: "bg-moss",
  "under-way": "bg-slate",
  "asks-second": "bg-ochre",
  changed: "bg-ochre",
  "host-refused": "bg-madder",
  contradicted: "bg-madder",
  refused: "bg-rule-strong",
  withdrawn: "bg-rule-strong",
  "left-out": "bg-rule-strong",
  waiting: "bg-rule",
};

const order = Object.keys(ink) as Outcome[];

/** The progress of a batch as one bar, and its states to filter by. */
export function BatchTally(props: {
  batch: Schema["Batch"];
  chosen: Outcome | undefined;
  onChoose: (outcome: Outcome | undefined) => void;
}) {
  const { batch, chosen, onChoose } = props;
  const parts = [...batch.counts].sort((a, b) => order.indexOf(a.outcome) - order.indexOf(b.outcome));
  const isPlan = batch.state === "planned";
  const words = (outcome: Outcome) => (isPlan && outcome === "waiting" ? "can be done" : outcomesLabel[outcome]);
  const colour = (outcome: Outcome) => ink[isPlan && outcome === "waiting" ? "done" : outcome];
  return (
    <div className="mt-3">
      <div aria-hidden="true" className="flex h-2.5 max-w-[720px] gap-px overflow-hidden border border-rule-strong">
        {parts.map(({ outcome, count }) => (
          <span key={outcome} className={colour(outcome)} style={{ flexGrow: count }} />
        ))}
      </div>
      <div role="group" aria-label="Which sites" className="mt-1.5 flex flex-wrap gap-x-4">
        <Part isChosen={chosen === undefined} onClick={() => onChoose(undefined)}>
          All {batch.sites.toLocaleString("en-GB")}
        </Part>
        {parts.map(({ outcome, count }) => (
          <Part key={outcome} isChosen={chosen === outcome} onClick={() => onChoose(outcome)}>
            <span aria-hidden="true" className={clsx("mr-1.5 inline-block size-2.5", colour(outcome))} />
            {count.toLocaleString("en-GB")} {words(outcome)}
          </Part>
        ))}
      </div>
    </div>
  );
}

function Part(props: { isChosen: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={props.isChosen}
      onClick={props.onClick}
      className={clsx("min-h-6 border-b-2", props.isChosen ? "border-brass font-semibold" : "border-transparent")}
    >
      {props.children}
    </button>
  );
}
