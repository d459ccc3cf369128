import { describe, expect, it } from "vitest";
import { completed, completionAt } from "../../web/src/register/completion";

const attribute = (name: string, type: string, order: string[] = [], canSort = true) => ({
  name,
  words: name,
  says: `says ${name}`,
  type,
  order,
  canSort,
});

const attributes = [
  attribute("class", "text"),
  attribute("stage", "word", ["never-live", "live", "changed", "offline"]),
  attribute("visits", "number"),
  attribute("beyond", "truth"),
  attribute("owners.value", "text", [], false),
  attribute("owners.standing", "word", ["current", "left"], false),
];

const at = (text: string) => {
  const { options, valuesOf, ...rest } = completionAt(text, text.length, attributes);
  return { ...rest, inserts: options.map((option) => option.insert), valuesOf: valuesOf?.name };
};

describe("what may come next in a filter", () => {
  it("is an attribute at the start, after a joint, after not and in brackets", () => {
    for (const start of ["", "beyond eq true and ", "not (", "(class pr or "])
      expect(at(start).inserts).toEqual([...attributes.map((one) => `${one.name} `), "owners["]);
    expect(at("vis").inserts).toEqual(["visits "]);
    expect(at("beyond eq true AND st").inserts).toEqual(["stage ", "owners.standing "]);
  });

  it("is a comparison that fits the attribute", () => {
    expect(at("beyond ").inserts).toEqual(["eq ", "pr "]);
    expect(at("visits g").inserts).toEqual(["gt ", "ge "]);
    expect(at("nonsense ").inserts).toEqual([]);
  });

  it("is a word, true or false, or a value that the register knows", () => {
    expect(at('stage eq "li').inserts).toEqual(['"live" ', '"never-live" ', '"offline" ']);
    expect(at("beyond eq ").inserts).toEqual(["true ", "false "]);
    expect(at('class eq "Op')).toMatchObject({ typed: '"Op', from: 9, valuesOf: "class" });
    expect(at("owners eq ").valuesOf).toBe("owners.value");
    expect(at("visits ge ").inserts).toEqual([]);
  });

  it("is a part of the list inside its brackets, and a joint after them", () => {
    expect(at("owners[").inserts).toEqual(["value ", "standing "]);
    expect(at("owners[standing eq ").inserts).toEqual(['"current" ', '"left" ']);
    expect(at('owners[standing eq "left"').inserts).toEqual(["and ", "or "]);
    expect(at('owners[standing eq "left"] ').inserts).toEqual(["and ", "or "]);
    expect(at("class pr a").inserts).toEqual(["and "]);
  });

  it("is not misled by what stands in quotes", () => {
    expect(at('class eq "a \\" and (b" ').inserts).toEqual(["and ", "or "]);
  });

  it("goes in place of what was being written, and leaves the rest", () => {
    expect(completed("vis ge 3", 3, 0, "visits ")).toEqual({ text: "visits ge 3", caret: 7 });
    expect(completed("visi ge 3", 2, 0, "visits ")).toEqual({ text: "visits ge 3", caret: 7 });
    expect(completed('class eq "Open" and beyond pr', 12, 9, '"Guarded" ').text).toBe(
      'class eq "Guarded" and beyond pr',
    );
    expect(completed("class pr", 0, 0, "stage ").text).toBe("stage class pr");
    expect(completed('stage eq "li', 12, 9, '"live" ')).toEqual({ text: 'stage eq "live" ', caret: 16 });
  });
});
