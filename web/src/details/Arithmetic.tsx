import clsx from "clsx";
import type { ReactNode } from "react";
import type { Schema } from "../api/client";
import { Word } from "../words/Word";

/** Every layer with its value, who enforces it, and which ones limit the access: the access path as a table. */
export function Arithmetic({ accessPath }: { accessPath: Schema["AccessPath"] }) {
  return (
    <table className="mt-1 w-full table-fixed text-[13px]">
      <thead>
        <tr className="text-left text-[12px] text-second">
          <th scope="col" className="pb-1 font-normal">
            Layer, enforced by
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
        <Row
          name={<Word of="set">Set on the site</Word>}
          inside={accessPath.set.insideLabels}
          outside={accessPath.set.outsideLabels}
        />
        {accessPath.steps
          .filter((step) => step.enforcer === "host")
          .map((step) => (
            <Layer key={`${step.kind} ${step.name}`} step={step} />
          ))}
        <Row
          name={<Word of="effective">Effective</Word>}
          inside={accessPath.effective.insideLabels}
          outside={accessPath.effective.outsideLabels}
          bold
        />
        {accessPath.steps
          .filter((step) => step.enforcer === "policy")
          .map((step) => (
            <Layer key={`${step.kind} ${step.name}`} step={step} />
          ))}
        <Row
          name={<Word of="allowed">Allowed</Word>}
          inside={accessPath.allowed.insideLabels}
          outside={accessPath.allowed.outsideLabels}
          bold
        />
      </tbody>
    </table>
  );
}

function Layer({ step }: { step: Schema["Step"] }) {
  const limits = step.limits.length > 0;
  const visitorSignIn = step.limits.includes("sign-in") ? `, ${step.signInLabels ?? ""}` : "";
  const word = (axis: string, words: string | null) =>
    words === null
      ? "unknown"
      : step.limits.includes(axis) || (axis === "outside" && visitorSignIn !== "")
        ? `${words}, limits it`
        : step.mayLimit.includes(axis)
          ? `${words}, may limit it`
          : words;
  return (
    <Row
      name={step.name}
      by={<Word of={step.enforcer === "host" ? "enforced by the host" : "policy only"}>{step.enforcer}</Word>}
      inside={word("inside", step.insideLabels)}
      outside={word("outside", step.outsideLabels === null ? null : `${step.outsideLabels}${visitorSignIn}`)}
      limits={limits}
      insideLimits={step.limits.includes("inside")}
      outsideLimits={step.limits.includes("outside") || step.limits.includes("sign-in")}
    />
  );
}

function Row(props: {
  name: ReactNode;
  by?: ReactNode;
  inside: string;
  outside: string;
  bold?: boolean;
  limits?: boolean;
  insideLimits?: boolean;
  outsideLimits?: boolean;
}) {
  return (
    <tr className={clsx("align-top", props.bold && "border-y border-rule font-bold")}>
      <th
        scope="row"
        className={clsx(
          "py-[3px] pr-2 text-left",
          props.limits ? "font-bold text-madder" : props.bold ? "font-bold" : "font-normal",
        )}
      >
        {props.name} {props.by && <span className="font-normal text-second">{props.by}</span>}
      </th>
      <td className={clsx("py-[3px] pr-2", props.insideLimits && "font-bold text-madder")}>{props.inside}</td>
      <td className={clsx("py-[3px]", props.outsideLimits && "font-bold text-madder")}>{props.outside}</td>
    </tr>
  );
}
