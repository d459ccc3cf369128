import { beforeAll, describe, expect, it } from "vitest";
import {
  ago,
  atMinute,
  capital,
  counted,
  instantOf,
  digits,
  listed,
  onDate,
  onDay,
  showInZone,
} from "../../web/src/ui/words";
import { underTitle } from "../../web/src/site-parts/underTitle";

const now = new Date("2026-11-24T07:00:00Z");

describe("words", () => {
  beforeAll(() => showInZone("UTC"));

  it("show the year of a day only if it is not the current one", () => {
    expect(onDay("2026-11-12T12:00:00Z", now)).toBe("12 Nov");
    expect(onDay("2024-03-03T12:00:00Z", now)).toBe("3 Mar 2024");
  });

  it("show instants in the organisation's time zone, which is named where it is not the reader's", () => {
    showInZone("Pacific/Auckland");
    expect(onDay("2026-11-12T12:00:00Z", now)).toBe("13 Nov");
    expect(onDate("2026-11-12", now)).toBe("12 Nov");
    expect(onDate("2027-01-01", now)).toBe("1 Jan 2027");
    expect(atMinute("2026-11-12T12:00:00Z")).toMatch(/^13 Nov, 01:00 \S+/);
    expect(instantOf("2026-11-13T01:00")).toBe("2026-11-12T12:00:00.000Z");
    // Clocks go forward on 27 Sep 2026: two minutes later it is an hour and two minutes later.
    expect(instantOf("2026-09-27T01:59")).toBe("2026-09-26T13:59:00.000Z");
    expect(instantOf("2026-09-27T03:01")).toBe("2026-09-26T14:01:00.000Z");
    showInZone("UTC");
  });

  it("show how long ago, then the day", () => {
    expect(ago("2026-11-24T06:59:30Z", now)).toBe("just now");
    expect(ago("2026-11-24T06:59:00Z", now)).toBe("1 minute ago");
    expect(ago("2026-11-24T06:01:00Z", now)).toBe("59 minutes ago");
    expect(ago("2026-11-24T05:00:00Z", now)).toBe("2 hours ago");
    expect(ago("2026-11-20T12:00:00Z", now)).toBe("on 20 Nov");
  });

  it("show the address under a title, or what is missing", () => {
    expect(underTitle({ title: "Tide tables", address: "quay.example/tide" })).toBe("quay.example/tide");
    expect(underTitle({ title: "quay.example/tide", address: "quay.example/tide" })).toBe("no name");
    expect(underTitle({ title: "Tide tables", address: null })).toBe("no address");
  });

  it("show exact counts", () => {
    expect(digits(0)).toBe("0");
    expect(digits(1284)).toBe("1,284");
    expect(counted(1, "site")).toBe("1 site");
    expect(counted(2, "person", "people")).toBe("2 people");
  });

  it('join a list with "and"', () => {
    expect(listed([])).toBe("");
    expect(listed(["a"])).toBe("a");
    expect(listed(["a", "b", "c"])).toBe("a, b and c");
    expect(capital("anonymous visitors")).toBe("Anonymous visitors");
  });
});
