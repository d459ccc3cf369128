import { describe, expect, it } from "vitest";
import { placesFor } from "../../web/src/find/places";

describe("the finder's pages and deeds", () => {
  it("are found by what people call them elsewhere", () => {
    const words = (text: string) => placesFor(text, false).map((place) => place.words);
    expect(words("restore")).toEqual(["Attic", "Bring a site back"]);
    expect(words("delete")).toContain("Put a site away");
    expect(words("revoke")).toEqual(["Narrow who gets in"]);
    expect(words("AUDIT")).toEqual(["Journal"]);
    expect(words("put away")[0]).toBe("Put a site away");
    expect(words("no such thing")).toEqual([]);
  });

  it("are fewer for an owner", () => {
    expect(placesFor("keys", true)).toEqual([]);
    expect(placesFor("own", true).map((place) => place.words)).toContain("Your sites");
  });
});
