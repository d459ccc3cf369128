import clsx from "clsx";
import type { Wire } from "../api/client";

/** Every layer with its value, who keeps it, and which of them bind: the table behind the passage. */
export function Arithmetic({ passage }: { passage: Wire["PassageWire"] }) {
  return (
    <table className="mt-1 w-full table-fixed text-[13px]">
      <thead>
        <tr className="text-left text-[12px] text-second">
          <th scope="col" className="pb-1 font-normal">
            Layer, kept by
          </th>
          <th scope="col" className="w-[68px] pb-1 font-normal">
            inside
          </th>
          <th scope="col" className="w-[112px] pb-1 font-normal">
            outside
          </th>
        </tr>
      </thead>
      <tbody>
        <Row name="The site asks for" inside={passage.asked.insideWords} outside={passage.asked.outsideWords} />
        {passage.steps
          .filter((step) => step.enforcer === "host")
          .map((step) => (
            <Layer key={`${step.kind} ${step.name}`} step={step} />
          ))}
        <Row name="So in fact" inside={passage.actual.insideWords} outside={passage.actual.outsideWords} bold />
        {passage.steps
          .filter((step) => step.enforcer === "house")
          .map((step) => (
            <Layer key={`${step.kind} ${step.name}`} step={step} />
          ))}
        <Row name="Allowed of it" inside={passage.allowed.insideWords} outside={passage.allowed.outsideWords} bold />
      </tbody>
    </table>
  );
}

function Layer({ step }: { step: Wire["StepWire"] }) {
  const binds = step.binds.length > 0;
  const proof = step.binds.includes("proof") ? `, ${step.proofWords ?? ""}` : "";
  const word = (axis: string, words: string | null) =>
    words === null
      ? "unknown"
      : step.binds.includes(axis) || (axis === "outside" && proof !== "")
        ? `${words}, binds`
        : step.mayBind.includes(axis)
          ? `${words}, may bind`
          : words;
  return (
    <Row
      name={step.name}
      by={step.enforcer}
      inside={word("inside", step.insideWords)}
      outside={word("outside", step.outsideWords === null ? null : `${step.outsideWords}${proof}`)}
      binds={binds}
      insideBinds={step.binds.includes("inside")}
      outsideBinds={step.binds.includes("outside") || step.binds.includes("proof")}
    />
  );
}

function Row(props: {
  name: string;
  by?: string;
  inside: string;
  outside: string;
  bold?: boolean;
  binds?: boolean;
  insideBinds?: boolean;
  outsideBinds?: boolean;
}) {
  return (
    <tr className={clsx("align-top", props.bold && "border-y border-rule font-bold")}>
      <th
        scope="row"
        className={clsx(
          "py-[3px] pr-2 text-left",
          props.binds ? "font-bold text-madder" : props.bold ? "font-bold" : "font-normal",
        )}
      >
        {props.name} {props.by && <span className="font-normal text-second">{props.by}</span>}
      </th>
      <td className={clsx("py-[3px] pr-2", props.insideBinds && "font-bold text-madder")}>{props.inside}</td>
      <td className={clsx("py-[3px]", props.outsideBinds && "font-bold text-madder")}>{props.outside}</td>
    </tr>
  );
}
