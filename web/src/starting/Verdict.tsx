import type { Schema } from "../api/client";
import { counted } from "../ui/words";
import type { Check, Kind } from "./useStart";
import { reachInWords } from "./words";

const titles: Record<Check["granting"], string> = {
  "at-once": "It is granted at once",
  "with-changes": "It is granted at once, with changes",
  "by-administrator": "An administrator decides",
  "not-allowed": "Not yet",
};

const tone: Record<Check["granting"], string> = {
  "at-once": "border-moss",
  "with-changes": "border-ochre",
  "by-administrator": "border-ochre",
  "not-allowed": "border-rule-strong",
};

const of = (check: Check, weight: Schema["RemarkWeight"]) => check.fields.filter((one) => one.weight === weight);

/** What becomes of the request as it is filled in. */
export function Verdict(props: { check: Check; kind: Kind; days: number; grants: boolean }) {
  const { check, kind, grants } = props;
  const decisions = of(check, "decision");
  return (
    <section aria-live="polite" className={`border-l-[6px] bg-bar px-4 py-3 ${tone[check.granting]}`}>
      <h2 className="text-[17px]">{titles[check.granting]}</h2>
      {check.granting === "not-allowed" ? (
        <ul className="mt-1 list-disc space-y-0.5 pl-4 text-[13px] text-second">
          {of(check, "refusal").map(({ field, remark }) => (
            <li key={`${field} ${remark.sentence}`}>
              <bdi>{remark.sentence}</bdi>
            </li>
          ))}
        </ul>
      ) : (
        <>
          {decisions.length > 0 && (
            <>
              {grants && <p className="mt-1 text-[13px]">You are an administrator: by starting it you decide this.</p>}
              <ul className="mt-1 list-disc space-y-0.5 pl-4 text-[13px]">
                {decisions.map(({ remark }) => (
                  <li key={remark.sentence}>{remark.sentence}</li>
                ))}
              </ul>
            </>
          )}
          {of(check, "change").map(({ remark }) => (
            <p key={remark.sentence} className="mt-1 text-[13px]">
              {remark.sentence}
            </p>
          ))}
          {check.granting === "by-administrator" && (
            <p className="mt-1 text-[13px]">
              The address is held for you for {counted(props.days, "day")}, and the answer comes by mail.
            </p>
          )}
        </>
      )}
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-[13px]">
        <dt className="text-second">Made on</dt>
        <dd>
          {kind.host}
          {kind.isByHand && ", by a person"}
        </dd>
        {check.address.whole && (
          <>
            <dt className="text-second">Address</dt>
            <dd className="font-address break-all">{check.address.whole}</dd>
          </>
        )}
        {check.reach && (
          <>
            <dt className="text-second">Can view</dt>
            <dd>
              {reachInWords(check.reach.reach)}: {counted(check.reach.people, "person", "people")}
              {check.reach.reach.outside === "anonymous" && " by name, and anybody else"}
            </dd>
            <dt className="text-second">Can edit</dt>
            <dd>{counted(check.reach.editors, "person", "people")}</dd>
          </>
        )}
      </dl>
    </section>
  );
}
