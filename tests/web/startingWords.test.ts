import { describe, expect, it } from "vitest";
import { empty, type Check } from "../../web/src/starting/useStart";
import { firstRefused, offeredTags, reachInWords, remarksOn } from "../../web/src/starting/words";

type Said = Check["fields"][number];

const tags = [
  { code: "safety", name: "Safety", words: ["safety at work"] },
  { code: "ships", name: "Ships", words: ["vessel"] },
  { code: "history", name: "History", words: [] },
];

describe("the form of a new site", () => {
  it("offers first the tags that what is typed speaks of, and keeps those that are chosen there", () => {
    const site = { ...empty, name: "Vessel movements", tags: ["history"] };
    expect(offeredTags(site, tags).meant.map(({ code }) => code)).toEqual(["ships", "history"]);
    expect(offeredTags(site, tags).others.map(({ code }) => code)).toEqual(["safety"]);
  });

  it("says who can view a site in words", () => {
    expect(reachInWords({ inside: "staff", outside: "no-one", signIn: "account" })).toBe("all of the staff");
    expect(reachInWords({ inside: "named", outside: "partners", signIn: "account" })).toBe(
      "owners and editors only, and partners who sign in",
    );
    expect(reachInWords({ inside: "unit", outside: "anonymous", signIn: "none" })).toBe(
      "the site's unit, and anybody, without being asked who they are",
    );
    expect(reachInWords({ inside: "unit", outside: "anonymous", signIn: "one-time-code" })).toBe(
      "the site's unit, and anybody who enters a one-time code",
    );
  });

  it("tells what is missing only after somebody tried to send it, and goes to the first field of the page", () => {
    const said = (field: Said["field"], code: Said["remark"]["code"]): Said => ({
      field,
      weight: "refusal",
      remark: { code, parameters: {}, sentence: code },
    });
    const check = {
      fields: [said("owners", "new-site-without-owner"), said("name", "name-missing"), said("name", "name-too-long")],
    } as Check;
    expect(remarksOn(check, "name", false).map(({ remark }) => remark.code)).toEqual(["name-too-long"]);
    expect(remarksOn(check, "name", true)).toHaveLength(2);
    expect(firstRefused(check)).toBe("name");
  });
});
