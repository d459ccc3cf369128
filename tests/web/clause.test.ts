import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { readClause, valueOf, waysOf, writeClause } from "../../web/src/register/clause";

const attribute = (type: Schema["AttributeKind"]) => ({
  name: "a",
  words: "a",
  says: "",
  type,
  order: [],
  canSort: true,
  inRules: true,
});

describe("a clause", () => {
  it("survives a round trip, whatever its values contain", () => {
    for (const clause of [
      { attribute: "classification", how: "not", values: ["Open", "Internal"] },
      { attribute: "name", how: "has", values: ["Dock 1: repairs"] },
      { attribute: "title", how: "is", values: ["Harbour | Home", "100 %7C of it"] },
      { attribute: "owners.unit", how: "none", values: [] },
    ])
      expect(readClause(writeClause(clause))).toEqual(clause);
  });

  it("reads any address without failing", () => {
    expect(readClause("")).toEqual({ attribute: "", how: "", values: [] });
    expect(readClause("classification")).toEqual({ attribute: "classification", how: "", values: [] });
  });

  it("requests a value only if the comparison needs one, and of the right kind", () => {
    expect(valueOf(attribute("text"), "none")).toBe("none");
    expect(valueOf(attribute("text"), "has")).toBe("text");
    expect(valueOf(attribute("word"), "least")).toBe("choices");
    expect(valueOf(attribute("instant"), "before")).toBe("date");
    expect(waysOf(attribute("truth")).map((way) => way.how)).toEqual(["is"]);
  });
});
