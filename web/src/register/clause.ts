import type { Schema } from "../api/client";

/** A filter as the address bar carries it: attribute:how:value|value. */
export interface Clause {
  attribute: string;
  how: string;
  values: string[];
}

// Titles and names may contain the character that separates values.
const escape = (value: string) => value.replaceAll("%", "%25").replaceAll("|", "%7C");
const unescape = (value: string) => value.replaceAll("%7C", "|").replaceAll("%25", "%");

export function readClause(text: string): Clause {
  const [attribute = "", how = "", ...rest] = text.split(":");
  const values = rest.join(":");
  return { attribute, how, values: values === "" ? [] : values.split("|").map(unescape) };
}

export const writeClause = ({ attribute, how, values }: Clause) =>
  values.length > 0 ? `${attribute}:${how}:${values.map(escape).join("|")}` : `${attribute}:${how}`;

/** How an attribute can be compared, by its type. */
export function waysOf(attribute: Schema["Attribute"]): { how: string; words: string }[] {
  const known = [
    { how: "any", words: "is known" },
    { how: "none", words: "is none" },
  ];
  switch (attribute.type) {
    case "truth":
      return [{ how: "is", words: "is" }];
    case "instant":
      return [{ how: "before", words: "is before" }, { how: "since", words: "is on or after" }, ...known];
    case "number":
      return [
        { how: "least", words: "is at least" },
        { how: "most", words: "is at most" },
        { how: "is", words: "is" },
        ...known,
      ];
    case "word":
      return [
        { how: "is", words: "is" },
        { how: "not", words: "is none of" },
        { how: "least", words: "is at least" },
        { how: "most", words: "is at most" },
        ...known,
      ];
    default:
      return [
        { how: "is", words: "is" },
        { how: "not", words: "is none of" },
        { how: "has", words: "contains" },
        { how: "lacks", words: "does not contain" },
        ...known,
      ];
  }
}

/** The input after the comparison: a choice of existing values, a text to type, or nothing. */
export function valueOf(attribute: Schema["Attribute"], how: string): "choices" | "text" | "number" | "date" | "none" {
  if (how === "any" || how === "none") return "none";
  if (how === "has" || how === "lacks") return "text";
  return attribute.type === "number" ? "number" : attribute.type === "instant" ? "date" : "choices";
}
