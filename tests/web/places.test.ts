import { describe, expect, it } from "vitest";
import { placesFor } from "../../web/src/find/places";

describe("the finder's pages and actions", () => {
  it("are found by other common words", () => {
    const words = (text: string) => placesFor(text, "administrator").map((place) => place.words);
    expect(words("restore")).toEqual(["Restore a site", "Attic"]);
    expect(words("delete")).toContain("Move a site to the attic");
    expect(words("revoke")).toEqual(["Restrict access"]);
    expect(words("who has access")).toContain("Restrict access");
    expect(words("permissions")).toContain("Accounts");
    expect(words("AUDIT")).toEqual(["Journal", "Reports"]);
    expect(words("move")[0]).toBe("Move a site to the attic");
    expect(words("rules")[0]).toBe("Rules");
    expect(words("policies")).toContain("Rules");
    expect(words("no such thing")).toEqual([]);
  });

  it("are fewer for an owner", () => {
    expect(placesFor("keys", "owner")).toEqual([]);
    expect(placesFor("audit", "steward").map((place) => place.words)).toEqual(["Journal"]);
    expect(placesFor("own", "owner").map((place) => place.words)).toContain("Your sites");
  });
});
