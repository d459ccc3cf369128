import clsx from "clsx";
import { KindPicture } from "./KindPicture";
import { Remarks } from "./Remarks";
import type { Filled } from "./Filled";
import type { Kind } from "./useStart";
import { mostInWords, remarksOn, startedBy } from "./words";

/** The kind of site, with what it implies before it is chosen. */
export function ChooseKind({ site, check, isAsked, onChange, kinds }: Filled & { kinds: Kind[] }) {
  if (kinds.length === 0) return null;
  return (
    <fieldset className="mt-5">
      <legend className="font-title text-[17px] font-semibold">What kind of site</legend>
      <ul className="mt-2 grid gap-2 sm:grid-cols-2">
        {kinds.map((kind, place) => (
          <li key={kind.kind}>
            <label
              htmlFor={`kind ${kind.kind}`}
              className={clsx(
                "flex h-full gap-3 rounded-[4px] border px-3 py-2.5",
                site.kind === kind.kind ? "border-ink bg-bookmark" : "border-rule-strong",
                kind.mayStart ? "cursor-pointer hover:bg-bar" : "text-second",
              )}
            >
              <input
                type="radio"
                id={`kind ${kind.kind}`}
                name="kind"
                data-field={place === 0 ? "kind" : undefined}
                className="mt-1 size-4 shrink-0 accent-[var(--cover)]"
                disabled={!kind.mayStart}
                checked={site.kind === kind.kind}
                onChange={() =>
                  onChange({
                    kind: kind.kind,
                    ...(kind.alwaysAllStaff && { reach: { ...site.reach, inside: "staff" } }),
                  })
                }
              />
              <span className="min-w-0 flex-1">
                <span className="float-right ml-2">
                  <KindPicture kind={kind} />
                </span>
                <span className="font-semibold">{kind.name}</span>{" "}
                <span className="text-[13px] text-second">on {kind.host}</span>
                <span className="block text-[13px]">{kind.describes}</span>
                <span className="mt-1 block text-[13px] text-second">{implies(kind)}</span>
              </span>
            </label>
          </li>
        ))}
      </ul>
      <Remarks remarks={remarksOn(check, "kind", isAsked).filter(() => site.kind !== "" || isAsked)} />
    </fieldset>
  );
}

const implies = (kind: Kind) =>
  [
    kind.starterPages.length > 0 && `Begins with the pages ${kind.starterPages.join(", ")}.`,
    kind.makesGroup && "Its editors get a group, which is removed with it.",
    kind.aliasDomain && `It gets a mail address at ${kind.aliasDomain}.`,
    kind.alwaysAllStaff ? "All of the staff can always view it." : mostInWords(kind),
    kind.isByHand && `A person makes it at ${kind.host} by hand, so it takes days.`,
    kind.startedBy !== "staff" && startedBy[kind.startedBy],
  ]
    .filter(Boolean)
    .join(" ");
