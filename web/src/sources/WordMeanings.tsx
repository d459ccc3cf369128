import { useState } from "react";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Select } from "../ui/Select";
import { counted } from "../ui/words";

type Word = Schema["ListWord"];

const newUnit = "new:";
const byHand = "by-hand";

/** A word as a request names it. */
const keyOf = (word: Word) => `${word.of}:${word.word}`;

/** As a request would choose it again. */
const meaningOf = ({ meaning }: Word, { newUnits }: Schema["ListMapping"]) =>
  meaning === null ? "" : newUnits.some(({ code }) => code === meaning) ? `${newUnit}${meaning}` : meaning;

/** The words of a list that are not understood, each with a meaning to choose once for all its lines. */
export function WordMeanings(props: {
  list: Schema["ListMapping"];
  /** The meanings that are requested, by words. */
  chosen: Record<string, string>;
  isBusy: boolean;
  onChoose: (meanings: Record<string, string>) => void;
}) {
  const { list, chosen, isBusy, onChoose } = props;
  const units = list.words.filter((word) => !word.isUnderstood && word.newUnit !== null);
  if (list.words.length === 0) return null;
  return (
    <section className="mt-5" aria-label="Words of the list">
      <h2 className="text-[17px]">Words of the list</h2>
      <p className="text-[13px] text-second">
        A meaning counts for all lines with the word, and is proposed again with the next list.
      </p>
      <table className="mt-1 w-full text-[14px]">
        <thead>
          <tr className="border-b border-rule-strong text-left">
            <th className="py-1 font-semibold">Word</th>
            <th className="font-semibold">In</th>
            <th className="font-semibold">Means</th>
          </tr>
        </thead>
        <tbody>
          {list.words.map((word) => (
            <tr key={keyOf(word)} className="border-b border-rule align-top">
              <td className="py-2.5 pr-3 break-words">
                <bdi>{word.word}</bdi>
              </td>
              <td className="py-2.5 pr-3 whitespace-nowrap text-second">
                {word.of === "people" ? "who" : word.of}, {counted(word.lines, "line")}
              </td>
              <td className="py-1">
                <Meaning
                  word={word}
                  meanings={list.meanings[word.of] ?? []}
                  chosen={chosen[keyOf(word)] ?? meaningOf(word, list)}
                  isBusy={isBusy}
                  onChoose={(meaning) => onChoose({ [keyOf(word)]: meaning })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {units.length > 1 && (
        <Button
          className="mt-2"
          disabled={isBusy}
          onClick={() =>
            onChoose(Object.fromEntries(units.map((word) => [keyOf(word), `${newUnit}${word.newUnit ?? ""}`])))
          }
        >
          Add {units.length} new units with the proposed codes
        </Button>
      )}
      {list.newUnits.length > 0 && (
        <p className="mt-2 border-l-[3px] border-slate pl-3">
          The import adds {counted(list.newUnits.length, "unit")}:{" "}
          {list.newUnits.map(({ code, name }) => `${name} (${code})`).join(", ")}. Undoing the import keeps them.
        </p>
      )}
    </section>
  );
}

function Meaning(props: {
  word: Word;
  meanings: Schema["WordMeaning"][];
  chosen: string;
  isBusy: boolean;
  onChoose: (meaning: string) => void;
}) {
  const { word, meanings, chosen, isBusy, onChoose } = props;
  const [isTyping, setTyping] = useState(false);
  const [typed, setTyped] = useState(word.newUnit ?? "");
  const isUnit = word.newUnit !== null;
  const isByHand = isUnit || word.of === "people";
  const isOwn = chosen !== "" && !meanings.some(({ meaning }) => meaning === chosen);
  const choose = (value: string) => {
    setTyping(value === byHand);
    if (value !== byHand) onChoose(value);
  };
  return (
    <>
      <Select<string>
        isWide
        label={`“${word.word}” means`}
        value={isTyping ? byHand : chosen}
        choices={[
          { value: "", words: "not understood" },
          ...(isOwn
            ? [
                {
                  value: chosen,
                  words: chosen.startsWith(newUnit) ? `new unit ${chosen.slice(newUnit.length)}` : chosen,
                },
              ]
            : []),
          ...meanings.map(({ meaning, label }) => ({ value: meaning, words: label })),
          ...(isByHand ? [{ value: byHand, words: isUnit ? "a new unit …" : "a person …" }] : []),
        ]}
        onChoose={choose}
      />
      {isTyping && (
        <form
          className="mt-1 flex gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            setTyping(false);
            onChoose(isUnit ? `${newUnit}${typed.trim()}` : typed.trim());
          }}
        >
          <input
            required
            aria-label={isUnit ? `Code of the new unit ${word.word}` : `Mail address for “${word.word}”`}
            value={typed}
            maxLength={isUnit ? 12 : 254}
            onChange={(event) => setTyped(event.target.value)}
            className="min-w-0 flex-1 rounded-[4px] border border-rule-strong bg-sheet px-2 py-1"
          />
          <Button type="submit" disabled={isBusy}>
            {isUnit ? "Add it" : "Choose"}
          </Button>
        </form>
      )}
      {word.meaning !== null && !word.isUnderstood && (
        <p className="text-[13px] text-madder">
          {isUnit ? "There is no such unit." : "Nobody in the register has this address."}
        </p>
      )}
    </>
  );
}
