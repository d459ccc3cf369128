import type { Wire } from "../api/client";

/** How many of the sites at hand break each rule before and after. */
export function RuleMoves({ moves }: { moves: Wire["RuleMoveWire"][] }) {
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
