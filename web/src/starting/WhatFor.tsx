import clsx from "clsx";
import { useId, type ReactNode } from "react";
import type { Schema } from "../api/client";
import type { Filled } from "./Filled";
import { LabelledField } from "./LabelledField";
import { Remarks } from "./Remarks";
import type { FieldName, Start } from "./useStart";
import { offeredTags, remarksOn } from "./words";

/** What the site is for: purpose, unit, classification, tags, and what it says about itself. */
export function WhatFor({ start, ...filled }: Filled & { start: Start }) {
  const { site, check, isAsked, onChange } = filled;
  const isForAll = start.kinds.some(({ kind, alwaysAllStaff }) => kind === site.kind && alwaysAllStaff);
  const usual = (purpose: string | null) => {
    const reach = start.purposes.find(({ code }) => code === purpose)?.reach;
    return reach && isForAll ? { ...reach, inside: "staff" as const } : reach;
  };
  const choose = (field: FieldName) => ({ field, remarks: remarksOn(check, field, isAsked) });
  return (
    <fieldset className="mt-7">
      <legend className="font-title text-[17px] font-semibold">What it is for</legend>
      <div className="grid gap-x-4 sm:grid-cols-3">
        <Choose
          {...choose("purpose")}
          label="Purpose"
          value={site.purpose}
          none="Choose a purpose"
          choices={start.purposes}
          hint="It decides who can usually view the site."
          onChoose={(purpose) =>
            onChange({
              purpose,
              reach: usual(purpose) ?? site.reach,
            })
          }
        />
        <Choose
          {...choose("unit")}
          label="Unit"
          value={site.unit}
          none="Choose a unit"
          choices={start.units}
          hint="An administrator can change it."
          onChoose={(unit) => onChange({ unit })}
        />
        <Choose
          {...choose("classification")}
          label="Classification"
          value={site.classification}
          none="Not set"
          choices={start.classifications}
          hint="How sensitive its content is."
          onChoose={(classification) => onChange({ classification })}
        />
      </div>
      <LabelledField
        field="description"
        label="Description (optional)"
        isLong
        value={site.description ?? ""}
        maxLength={1000}
        remarks={remarksOn(check, "description", isAsked)}
        hint="One or two sentences. It can be changed at any time."
        onChange={(description) => onChange({ description: description || null })}
      />
      <Tags {...filled} tags={start.tags} />
      <div className="grid gap-x-4 sm:grid-cols-3">
        <LabelledField
          field="language"
          label="Language"
          value={site.language ?? ""}
          maxLength={35}
          remarks={remarksOn(check, "language", isAsked)}
          hint="A language tag: en, cy, pt-BR."
          onChange={(language) => onChange({ language: language || null })}
        />
        <LabelledField
          field="ends"
          label="Last day (optional)"
          type="date"
          value={site.ends ?? ""}
          remarks={remarksOn(check, "ends", isAsked)}
          hint="When it is no longer needed, as of a project."
          onChange={(ends) => onChange({ ends: ends || null })}
        />
        <LabelledField
          field="content-notice"
          label="Content notice (optional)"
          value={site.contentNotice ?? ""}
          maxLength={1000}
          remarks={remarksOn(check, "content-notice", isAsked)}
          hint="What visitors read first: For adults, for instance."
          onChange={(contentNotice) => onChange({ contentNotice: contentNotice || null })}
        />
      </div>
    </fieldset>
  );
}

function Choose(props: {
  field: FieldName;
  label: string;
  value: string | null;
  none: string;
  choices: { code: string; name: string }[];
  hint: ReactNode;
  remarks: Schema["RemarkOnField"][];
  onChoose: (value: string | null) => void;
}) {
  const id = useId();
  return (
    <div className="mt-3">
      <label className="block font-semibold">
        {props.label}
        <select
          data-field={props.field}
          value={props.value ?? ""}
          aria-invalid={props.remarks.some(({ weight }) => weight === "refusal")}
          aria-describedby={`${id} said ${id} hint`}
          onChange={(event) => props.onChoose(event.target.value || null)}
          className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2 py-2 font-normal"
        >
          <option value="">{props.none}</option>
          {props.choices.map(({ code, name }) => (
            <option key={code} value={code}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <Remarks id={`${id} said`} remarks={props.remarks} />
      <p id={`${id} hint`} className="mt-0.5 text-[13px] text-second">
        {props.hint}
      </p>
    </div>
  );
}

/** Approved tags: those that the name or the description speaks of are offered first. */
function Tags({ site, check, isAsked, onChange, tags }: Filled & { tags: Schema["TermToChoose"][] }) {
  if (tags.length === 0) return null;
  const { meant, others } = offeredTags(site, tags);
  const chip = ({ code, name }: Schema["TermToChoose"], isMeant: boolean) => {
    const isOn = site.tags.includes(code);
    return (
      <li key={code}>
        <label
          className={clsx(
            "flex cursor-pointer items-center gap-1.5 rounded-[3px] border px-2 py-0.5",
            isOn ? "border-ink bg-bookmark" : isMeant ? "border-ink" : "border-rule-strong",
          )}
        >
          <input
            type="checkbox"
            className="size-3.5 accent-[var(--cover)]"
            checked={isOn}
            onChange={() => onChange({ tags: isOn ? site.tags.filter((tag) => tag !== code) : [...site.tags, code] })}
          />
          {name}
        </label>
      </li>
    );
  };
  return (
    <fieldset className="mt-3">
      <legend className="font-semibold">Tags (optional)</legend>
      <ul className="mt-1 flex flex-wrap gap-1.5 text-[13px]">
        {meant.map((tag) => chip(tag, true))}
        {others.map((tag) => chip(tag, false))}
      </ul>
      <Remarks remarks={remarksOn(check, "tags", isAsked)} />
      <p className="mt-0.5 text-[13px] text-second">
        Tags that your words speak of come first. They can be changed at any time.
      </p>
    </fieldset>
  );
}
