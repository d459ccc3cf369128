import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { chapters, idOf, meaningOf } from "../../web/src/words/glossary";

const root = join(__dirname, "../..");

function filesOf(folder: string, ending: RegExp): string[] {
  return readdirSync(join(root, folder), { recursive: true, encoding: "utf8" })
    .filter((name) => ending.test(name) && !/(^|\/)(obj|bin)\//.test(name) && !name.endsWith("schema.ts"))
    .map((name) => join(folder, name));
}

const notUsed = (readFileSync(join(root, "docs/words.md"), "utf8").split("## Words that are not used")[1] ?? "")
  .split("\n")
  .filter((line) => line.startsWith("| "))
  .slice(1)
  .flatMap((line) => line.split("|")[1]?.trim().split(", ") ?? []);

const avoided = new RegExp(`\\b(${notUsed.join("|").replaceAll(" ", "[ -]")})s?\\b`, "i");

describe("the glossary", () => {
  it("explains every word once, and gives each its own link", () => {
    const words = chapters.flatMap((chapter) => chapter.entries.map((entry) => entry.word));
    expect(words.length).toBeGreaterThan(60);
    expect(new Set(words.map(idOf)).size).toBe(words.length);
    expect(notUsed).toContain("the house");
    expect(() => meaningOf("no such word")).toThrow("no such word");
  });

  it("has every word that a page explains", () => {
    const used = filesOf("web/src", /\.tsx$/).flatMap((file) =>
      [...readFileSync(join(root, file), "utf8").matchAll(/<Word of="([^"]+)"/g)].map((match) => match[1] ?? ""),
    );
    expect(used.length).toBeGreaterThan(10);
    for (const word of used) expect(meaningOf(word), word).not.toBe("");
  });

  it.each([
    ["the screens", () => filesOf("web/src", /\.tsx?$/)],
    ["the API document", () => ["docs/openapi.json"]],
    ["the command line", () => filesOf("src/Cli", /\.cs$/)],
  ])("has none of the words that are not used in %s", (_, files) => {
    const found = files().flatMap((file) =>
      readFileSync(join(root, file), "utf8")
        .split("\n")
        .flatMap((line, at) => (avoided.test(line) ? [`${file}:${at + 1}: ${line.trim()}`] : [])),
    );
    expect(found).toEqual([]);
  });
});
