import { describe, expect, it } from "vitest";
import { ago, capital, counted, inWords, listed, onDay } from "../../web/src/ui/words";
import { underTitle } from "../../web/src/site-parts/underTitle";

const now = new Date("2026-11-24T07:00:00Z");

describe("words", () => {
  it("show the year of a day only if it is not the current one", () => {
    expect(onDay("2026-11-12T12:00:00Z", now)).toBe("12 Nov");
    expect(onDay("2024-03-03T12:00:00Z", now)).toBe("3 Mar 2024");
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

  it("show exact counts, and small ones in words", () => {
    expect(inWords(0)).toBe("no");
    expect(inWords(9)).toBe("nine");
    expect(inWords(1284)).toBe("1,284");
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
