import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { completed, completionAt } from "../../web/src/register/completion";

const attribute = (name: string, type: Schema["AttributeKind"], order: string[] = [], canSort = true) => ({
  name,
  words: name,
  says: `says ${name}`,
  type,
  order,
  canSort,
});

const attributes = [
  attribute("classification", "text"),
  attribute("status", "word", ["never-published", "published", "unpublished-changes", "offline"]),
  attribute("visits", "number"),
  attribute("exceeds", "truth"),
  attribute("owners.value", "text", [], false),
  attribute("owners.standing", "word", ["current", "left"], false),
];

const at = (text: string) => {
  const { options, valuesOf, ...rest } = completionAt(text, text.length, attributes);
  return { ...rest, inserts: options.map((option) => option.insert), valuesOf: valuesOf?.name };
};

describe("suggestions for a filter", () => {
  it("are attributes at the start, after and, or and not, and in brackets", () => {
    for (const start of ["", "exceeds eq true and ", "not (", "(classification pr or "])
      expect(at(start).inserts).toEqual([...attributes.map((one) => `${one.name} `), "owners["]);
    expect(at("vis").inserts).toEqual(["visits "]);
    expect(at("exceeds eq true AND st").inserts).toEqual(["status ", "owners.standing "]);
  });

  it("are comparisons that fit the attribute", () => {
    expect(at("exceeds ").inserts).toEqual(["eq ", "pr "]);
    expect(at("visits g").inserts).toEqual(["gt ", "ge "]);
    expect(at("nonsense ").inserts).toEqual([]);
  });

  it("are words, true and false, or values in the register", () => {
    expect(at('status eq "pub').inserts).toEqual(['"published" ', '"never-published" ', '"unpublished-changes" ']);
    expect(at("exceeds eq ").inserts).toEqual(["true ", "false "]);
    expect(at('classification eq "Op')).toMatchObject({ typed: '"Op', from: 18, valuesOf: "classification" });
    expect(at("owners eq ").valuesOf).toBe("owners.value");
    expect(at("visits ge ").inserts).toEqual([]);
  });

  it("are attributes of the elements inside the brackets of a list, and and/or after them", () => {
    expect(at("owners[").inserts).toEqual(["value ", "standing "]);
    expect(at("owners[standing eq ").inserts).toEqual(['"current" ', '"left" ']);
    expect(at('owners[standing eq "left"').inserts).toEqual(["and ", "or "]);
    expect(at('owners[standing eq "left"] ').inserts).toEqual(["and ", "or "]);
    expect(at("classification pr a").inserts).toEqual(["and "]);
  });

  it("ignore the text in quotes", () => {
    expect(at('classification eq "a \\" and (b" ').inserts).toEqual(["and ", "or "]);
  });

  it("replace the word being typed, and leave the rest", () => {
    expect(completed("vis ge 3", 3, 0, "visits ")).toEqual({ text: "visits ge 3", caret: 7 });
    expect(completed("visi ge 3", 2, 0, "visits ")).toEqual({ text: "visits ge 3", caret: 7 });
    expect(completed('classification eq "Open" and exceeds pr', 21, 18, '"Guarded" ').text).toBe(
      'classification eq "Guarded" and exceeds pr',
    );
    expect(completed("classification pr", 0, 0, "status ").text).toBe("status classification pr");
    expect(completed('status eq "pub', 14, 10, '"published" ')).toEqual({ text: 'status eq "published" ', caret: 22 });
  });
});
