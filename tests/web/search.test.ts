import { describe, expect, it } from "vitest";
import {
  readAtticSearch,
  readJournalSearch,
  readKeysSearch,
  readOfferSearch,
  readRegisterSearch,
  readYoursSearch,
} from "../../web/src/search";

describe("what the address bar carries", () => {
  it("keeps the sentence and the site in focus", () => {
    const search = {
      unit: "MAR",
      reach: "beyond",
      rule: "R-07",
      stage: "live",
      filter: "name pr",
      sort: "-edited,title",
      where: ["class:not:Open", "name:has:Dock 1: repairs"],
      verdict: "cannot-tell" as const,
      show: ["class"],
      site: 7,
    };
    expect(readRegisterSearch(search)).toEqual(search);
  });

  it("leaves out what it does not know", () => {
    expect(
      readRegisterSearch({
        unit: 3,
        sort: 4,
        where: 5,
        verdict: "perhaps",
        site: "x",
        filter: "",
        more: "?",
      }),
    ).toEqual({});
    expect(readRegisterSearch({ site: -1 })).toEqual({});
    expect(readRegisterSearch({ show: ["", 4], where: {} })).toEqual({});
  });

  it("takes one value that was written by hand for a list of one", () => {
    expect(readRegisterSearch({ where: "class:is:Open", show: "pages" })).toEqual({
      where: ["class:is:Open"],
      show: ["pages"],
    });
    expect(readJournalSearch({ deed: "site.narrow", site: "12", other: true })).toEqual({
      deed: "site.narrow",
      site: 12,
    });
  });
});

describe("the other books", () => {
  it("read only what they know from the address bar", () => {
    expect(readKeysSearch({ person: "7", state: "single", other: 1 })).toEqual({ person: 7, state: "single" });
    expect(readKeysSearch({ person: "-1", state: "all" })).toEqual({});
    expect(readAtticSearch({ site: 3 })).toEqual({ site: 3 });
    expect(readYoursSearch({ site: "x", link: "abc" })).toEqual({ link: "abc" });
    expect(readOfferSearch({ link: 5 })).toEqual({});
  });
});
