import type { Schema } from "../api/client";

type Attribute = Schema["Attribute"];

/** Suggestions for a filter that is being written. */
export interface Completion {
  /** Where the token at the caret begins. */
  from: number;
  /** The token up to the caret. */
  typed: string;
  options: Option[];
  /** The attribute whose values can come next, if the server has to provide them. */
  valuesOf?: Attribute;
}

export interface Option {
  insert: string;
  words: string;
  /** How many sites have that value. */
  count?: number;
}

const comparisons: Record<string, string> = {
  eq: "is",
  ne: "is not",
  co: "contains",
  sw: "begins with",
  ew: "ends with",
  gt: "is more than",
  ge: "is at least",
  lt: "is less than",
  le: "is at most",
  pr: "is known",
};

const comparisonsOf = (type: string) =>
  type === "text"
    ? ["eq", "ne", "co", "sw", "ew", "pr"]
    : type === "truth"
      ? ["eq", "pr"]
      : ["eq", "ne", "gt", "ge", "lt", "le", "pr"];

// A quoted text, closed or not; a bracket; a word.
const pieces = /"(?:[^"\\]|\\.)*"?|[()[\]]|[^\s()[\]"]+/g;

const restOfPiece = /^[^\s()[\]"]*"?\s*/;

/** Reads a filter up to the caret and returns what the grammar expects there. It never fails: a wrong start has no suggestions. */
export function completionAt(text: string, caret: number, attributes: Attribute[]): Completion {
  const read = [...text.slice(0, caret).matchAll(pieces)];
  const last = read.at(-1);
  const isOpen =
    last !== undefined &&
    last.index + last[0].length === caret &&
    !/^[()[\]]$/.test(last[0]) &&
    !/^"(?:[^"\\]|\\.)*"$/.test(last[0]);
  const [from, typed] = isOpen ? [last.index, last[0]] : [caret, ""];
  const { expected, list, name } = walk((isOpen ? read.slice(0, -1) : read).map((piece) => piece[0]));
  const attribute = find(attributes, list, name);
  switch (expected) {
    case "attribute":
      return { from, typed, options: fitting(names(attributes, list), typed) };
    case "comparison":
      return {
        from,
        typed,
        options: attribute
          ? fitting(
              comparisonsOf(attribute.type).map((word) => ({ insert: `${word} `, words: comparisons[word] ?? "" })),
              typed,
            )
          : [],
      };
    case "value":
      return {
        from,
        typed,
        options: attribute ? fitting(valuesOf(attribute), typed) : [],
        ...(attribute?.type === "text" && { valuesOf: attribute }),
      };
    default:
      return {
        from,
        typed,
        options: fitting(
          [
            { insert: "and ", words: "both hold" },
            { insert: "or ", words: "either holds" },
          ],
          typed,
        ),
      };
  }
}

/** The text with an option in place of the token at the caret, and the new place of the caret. */
export function completed(text: string, caret: number, from: number, insert: string): { text: string; caret: number } {
  const rest = text.slice(caret);
  const after = from < caret ? rest.replace(restOfPiece, "") : rest.trimStart();
  return { text: text.slice(0, from) + insert + after, caret: from + insert.length };
}

/** The options that begin with the token, then those that contain it. */
export const fitting = (options: Option[], typed: string) => {
  const wanted = typed.toLowerCase();
  const begins = options.filter((option) => option.insert.toLowerCase().startsWith(wanted));
  const part = wanted.replace(/^"/, "");
  const has = options.filter((option) => `${option.insert} ${option.words}`.toLowerCase().includes(part));
  return part === "" ? begins : [...new Set([...begins, ...has])];
};

export const quoted = (value: string) => `${JSON.stringify(value)} `;

type Expected = "attribute" | "comparison" | "value" | "joint";

function walk(read: string[]): { expected: Expected; list: string; name: string } {
  let expected: Expected = "attribute";
  let [list, name] = ["", ""];
  for (const piece of read) {
    if (piece === "(") expected = "attribute";
    else if (piece === "[") [list, expected] = [name, "attribute"];
    else if (piece === "]") [list, expected] = ["", "joint"];
    else if (piece === ")") expected = "joint";
    else if (expected === "attribute") {
      if (piece.toLowerCase() !== "not") [name, expected] = [piece, "comparison"];
    } else if (expected === "comparison") expected = piece.toLowerCase() === "pr" ? "joint" : "value";
    else expected = expected === "value" ? "joint" : "attribute";
  }
  return { expected, list, name };
}

const listOf = (attribute: Attribute) => attribute.name.slice(0, Math.max(0, attribute.name.lastIndexOf(".")));

function names(attributes: Attribute[], list: string): Option[] {
  if (list !== "")
    return attributes
      .filter((one) => !one.canSort && listOf(one).toLowerCase() === list.toLowerCase())
      .map((one) => ({ insert: `${one.name.slice(list.length + 1)} `, words: one.says }));
  const lists = [...new Set(attributes.filter((one) => !one.canSort).map(listOf))];
  return [
    ...attributes.map((one) => ({ insert: `${one.name} `, words: one.says })),
    ...lists.map((one) => ({ insert: `${one}[`, words: "one of them for which all in the brackets holds" })),
  ];
}

function find(attributes: Attribute[], list: string, name: string) {
  const wanted = (list === "" ? name : `${list}.${name}`).toLowerCase();
  return attributes.find((one) => [wanted, `${wanted}.value`].includes(one.name.toLowerCase()));
}

const valuesOf = (attribute: Attribute): Option[] =>
  attribute.type === "truth"
    ? [
        { insert: "true ", words: "" },
        { insert: "false ", words: "" },
      ]
    : attribute.order.map((word) => ({ insert: quoted(word), words: "" }));
