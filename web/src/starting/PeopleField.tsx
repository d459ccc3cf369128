import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, ok } from "../api/client";
import type { Filled } from "./Filled";
import { Remarks } from "./Remarks";
import { useSettled } from "../ui/useSettled";
import { remarksOn } from "./words";

const leastToFind = 2;
const mostFound = 8;

/** People by mail address, with the account behind each. People from outside are marked before anything is sent. */
export function PeopleField(props: Filled & { field: "owners" | "editors"; label: string; hint: string }) {
  const { site, check, isAsked, onChange, field } = props;
  const [text, setText] = useState("");
  const id = useId();
  const sought = useSettled(text.trim());
  const found = useQuery({
    queryKey: ["start people", sought],
    queryFn: ({ signal }) => ok(api.GET("/api/start/people", { params: { query: { text: sought } }, signal })),
    enabled: sought.length >= leastToFind,
  });
  const mails = site[field];
  const offered = text.trim() === "" ? [] : (found.data ?? []).filter(({ mail }) => !mails.includes(mail));
  const add = (mail: string) => {
    const clean = mail.trim();
    if (clean !== "" && !mails.some((one) => one.toLowerCase() === clean.toLowerCase()))
      onChange({ [field]: [...mails, clean] });
    setText("");
  };
  const who = (mail: string) =>
    check?.people.find((one) => one.mail.toLowerCase() === mail.toLowerCase())?.person ?? null;
  return (
    <div className="mt-3">
      <label className="block font-semibold" htmlFor={`${id} field`}>
        {props.label}
      </label>
      {mails.length > 0 && (
        <ul className="mt-1 divide-y divide-rule border-y border-rule">
          {mails.map((mail) => {
            const person = who(mail);
            return (
              <li key={mail} className="flex items-baseline gap-2 py-1">
                <span className="min-w-0 flex-1">
                  {person ? <span className="font-semibold">{person.name}</span> : <span>Nobody known</span>}{" "}
                  <span className="text-[13px] break-all text-second">{mail}</span>
                  {person?.isOutside && (
                    <span className="ml-2 rounded-[3px] bg-ochre-pale px-1.5 text-[12px] font-semibold text-ochre">
                      from outside
                    </span>
                  )}
                </span>
                <button
                  type="button"
                  className="min-h-6 text-[13px] underline"
                  onClick={() => onChange({ [field]: mails.filter((one) => one !== mail) })}
                >
                  Remove<span className="sr-only"> {person?.name ?? mail}</span>
                </button>
              </li>
            );
          })}
        </ul>
      )}
      <input
        id={`${id} field`}
        data-field={field}
        value={text}
        placeholder="Part of a name, or a mail address"
        autoComplete="off"
        aria-describedby={`${id} said ${id} hint`}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter" || text.trim() === "") return;
          event.preventDefault();
          add(offered.length === 1 && offered[0] ? offered[0].mail : text);
        }}
        className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-2 font-normal"
      />
      {offered.length > 0 && (
        <ul className="mt-1 flex flex-wrap gap-1.5 text-[13px]" aria-label={`${props.label}: people found`}>
          {offered.map((person) => (
            <li key={person.id}>
              <button
                type="button"
                className="rounded-[3px] border border-rule-strong bg-sheet px-2 py-0.5 text-left hover:bg-bar"
                onClick={() => add(person.mail)}
              >
                {person.name} <span className="text-second">{person.mail}</span>
                {person.isOutside && <span className="font-semibold text-ochre"> from outside</span>}
              </button>
            </li>
          ))}
        </ul>
      )}
      {offered.length > 0 && found.data?.length === mostFound && (
        <p className="mt-1 text-[13px] text-second">More people match. Type more of the name.</p>
      )}
      <div aria-live="polite">
        <Remarks id={`${id} said`} remarks={remarksOn(check, field, isAsked)} />
      </div>
      <p id={`${id} hint`} className="mt-0.5 text-[13px] text-second">
        {props.hint}
      </p>
    </div>
  );
}
