import { useState } from "react";
import type { Schema } from "../api/client";
import { Find } from "../ui/SentencePart";

/** The attributes, to choose one of; a part of the name or of the explanation finds it. */
export function AttributeChoice(props: {
  attributes: Schema["Attribute"][];
  onChoose: (attribute: Schema["Attribute"]) => void;
}) {
  const [find, setFind] = useState("");
  const wanted = find.trim().toLowerCase();
  return (
    <>
      <Find value={find} onChange={setFind} label="Find an attribute" />
      <ul className="max-h-72 overflow-auto" aria-label="Attributes">
        {props.attributes
          .filter((one) => `${one.words} ${one.name} ${one.says}`.toLowerCase().includes(wanted))
          .map((one) => (
            <li key={one.name}>
              <button
                type="button"
                className="block w-full px-3 py-1 text-left hover:bg-bar focus-visible:-outline-offset-2"
                onClick={() => props.onChoose(one)}
              >
                {one.words}
                <span className="block truncate text-[12.5px] text-second">{one.says}</span>
              </button>
            </li>
          ))}
      </ul>
    </>
  );
}
