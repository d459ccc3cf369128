import text from "../../../docs/words.md?raw";

interface Entry {
  word: string;
  meaning: string;
}

interface Chapter {
  title: string;
  entries: Entry[];
}

/** The chapters of the glossary in docs/words.md, without the table of words that are not used. */
export const chapters: Chapter[] = read(text).filter((chapter) => chapter.title !== "Words that are not used");

/** The id of a word on the page "Words used here", for links to it. */
export const idOf = (word: string) => word.replaceAll(/[^a-z]+/gi, "-").toLowerCase();

/**
 * The meaning of a word.
 * @throws if the glossary does not have it: a test renders every page.
 */
export function meaningOf(word: string): string {
  const entry = chapters.flatMap((chapter) => chapter.entries).find((one) => one.word === word);
  if (!entry) throw new Error(`The glossary has no "${word}".`);
  return entry.meaning;
}

function read(markdown: string): Chapter[] {
  return markdown
    .split(/^## /m)
    .slice(1)
    .map((part) => {
      const [title = "", ...lines] = part.split("\n");
      return {
        title,
        entries: lines
          .filter((line) => line.startsWith("| "))
          .map((line) => line.split("|").map((cell) => cell.trim()))
          .map(([, word = "", meaning = ""]) => ({ word, meaning }))
          .slice(1),
      };
    });
}
