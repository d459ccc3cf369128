import { useEffect } from "react";
import { SidePanel } from "../ui/SidePanel";
import { chapters, idOf } from "./glossary";
import { AccessPathLegend, ReachLegend } from "./Legends";

/** Every defined word of the product on one page, with the legends of its pictures. */
export function WordsPage() {
  useEffect(() => {
    const id = window.location.hash.slice(1);
    if (id) document.getElementById(id)?.scrollIntoView();
  }, []);
  return (
    <SidePanel title="Words used here" lead="What the words of Attic Ledger mean, and how to read its pictures.">
      {chapters.map((chapter) => (
        <section key={chapter.title} className="mt-5">
          <h2 className="text-[17px]">{chapter.title}</h2>
          <dl>
            {chapter.entries.map(({ word, meaning }) => (
              <div key={word} id={idOf(word)} className="border-b border-rule py-1.5 target:bg-bookmark">
                <dt className="font-bold">{word}</dt>
                <dd>{meaning}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
      <section className="mt-5">
        <h2 className="text-[17px]">Access cells</h2>
        <ReachLegend />
      </section>
      <section className="mt-5">
        <h2 className="text-[17px]">Access path</h2>
        <AccessPathLegend />
      </section>
    </SidePanel>
  );
}
