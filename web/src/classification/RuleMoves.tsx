import type { Schema } from "../api/client";

/** How many of the affected sites break each rule before and after. */
export function RuleMoves({ moves }: { moves: Schema["RuleMove"][] }) {
  return (
    <>
      {moves.map((move) => (
        <span key={move.rule.id}>
          {" "}
          {move.rule.short} ({move.rule.id}): {move.before.toLocaleString("en-GB")} before,{" "}
          {move.after.toLocaleString("en-GB")} after.
        </span>
      ))}
    </>
  );
}
