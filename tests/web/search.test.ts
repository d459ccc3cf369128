import { describe, expect, it } from "vitest";
import {
  readAtticSearch,
  readJournalSearch,
  readOwnersSearch,
  readOfferSearch,
  readRegisterSearch,
  readYoursSearch,
} from "../../web/src/api/search";

describe("the address of the register", () => {
  it("keeps the filters and the site in focus", () => {
    const search = {
      unit: "MAR",
      reach: "exceeds",
      rule: "R-07",
      status: "published",
      filter: "name pr",
      sort: "-edited,title",
      where: ["classification:not:Open", "name:has:Dock 1: repairs"],
      verdict: "cannot-tell" as const,
      show: ["classification"],
      site: 7,
    };
    expect(readRegisterSearch(search)).toEqual(search);
  });

  it("ignores unknown parameters", () => {
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

  it("reads a single value as a list of one", () => {
    expect(readRegisterSearch({ where: "classification:is:Open", show: "pages" })).toEqual({
      where: ["classification:is:Open"],
      show: ["pages"],
    });
    expect(readJournalSearch({ action: "site.restrict", site: "12", other: true })).toEqual({
      action: "site.restrict",
      site: 12,
    });
  });
});

describe("the addresses of other pages", () => {
  it("ignore unknown parameters", () => {
    expect(readOwnersSearch({ person: "7", state: "single", other: 1 })).toEqual({ person: 7, state: "single" });
    expect(readOwnersSearch({ person: "-1", state: "all" })).toEqual({});
    expect(readAtticSearch({ site: 3 })).toEqual({ site: 3 });
    expect(readYoursSearch({ site: "x", link: "abc" })).toEqual({ link: "abc" });
    expect(readOfferSearch({ link: 5 })).toEqual({});
  });
});
