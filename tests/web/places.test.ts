import { describe, expect, it } from "vitest";
import { placesFor } from "../../web/src/find/places";

describe("the finder's pages and deeds", () => {
  it("are found by what people call them elsewhere", () => {
    const words = (text: string) => placesFor(text, "administrator").map((place) => place.words);
    expect(words("restore")).toEqual(["Attic", "Bring a site back"]);
    expect(words("delete")).toContain("Put a site away");
    expect(words("revoke")).toEqual(["Narrow who gets in"]);
    expect(words("AUDIT")).toEqual(["Journal", "Reports"]);
    expect(words("put away")[0]).toBe("Put a site away");
    expect(words("no such thing")).toEqual([]);
  });

  it("are fewer for an owner", () => {
    expect(placesFor("keys", "owner")).toEqual([]);
    expect(placesFor("audit", "steward").map((place) => place.words)).toEqual(["Journal"]);
    expect(placesFor("own", "owner").map((place) => place.words)).toContain("Your sites");
  });
});
