import { Link } from "@tanstack/react-router";
import type { Schema } from "../api/client";
import { ago, capital, counted, inBytes, listed, onDay } from "../ui/words";
import { FactLines } from "./FactLines";
import { Line } from "./Line";
import { Section } from "./Section";

type SitePage = Schema["SitePage"];
type Related = Schema["Related"];

/** The content of a site, and the sites above and below it. */
export function Content({ sitePage }: { sitePage: SitePage }) {
  const { content } = sitePage;
  const says = (fact: Schema["OptionalFact"]) => content.says.includes(fact);
  const below = [...content.children];
  const totals = [
    known(
      below,
      (site) => site.pages,
      (sum) => counted(sum, "page"),
    ),
    known(below, (site) => site.bytes, inBytes),
  ].filter((total) => total !== null);
  return (
    <Section title="Content">
      <FactLines sitePage={sitePage} line="content" />
      {says("plan") && (
        <Line
          term="Plan"
          value={
            content.plan ? (
              <>
                {content.plan.name}, {content.plan.cost}; {content.plan.next}
                {content.plan.sites > 1 && `; ${counted(content.plan.sites, "site")} use it`}
              </>
            ) : (
              "none"
            )
          }
        />
      )}
      {says("owed") && (
        <Line term="Open obligations" value={content.owed.length > 0 ? listed(content.owed) : "nothing"} />
      )}
      {says("signals") && (
        <Line
          term="To review"
          value={
            content.signals.length > 0
              ? content.signals.map((signal) => (
                  <span key={`${signal.kind} ${signal.evidence}`} className="block">
                    {capital(signal.kind)} on {signal.evidence}
                  </span>
                ))
              : "nothing found"
          }
        />
      )}
      {content.sections.map((section) => (
        <Line
          key={section.name}
          term={`Section “${section.name}”`}
          value={
            <>
              {section.tie === "standing-free" ? "with its own access" : "inside the site's access"}; viewed inside by{" "}
              {section.view.insideLabels}, from outside by {section.view.outsideLabels}
              {section.isAjar === "yes" && (
                <span className="block font-semibold text-madder">lets in people whom the site does not</span>
              )}
            </>
          }
        />
      ))}
      {content.joining && <Line term="Joining" value={<JoiningLabels joining={content.joining} />} />}
      {content.shared.map((piece) => (
        <Line
          key={piece.what}
          term={`“${piece.what}”`}
          value={
            piece.in.length > 0
              ? `also appears in ${listed(piece.in)}`
              : `also appears in ${counted(piece.count, "other site")}`
          }
        />
      ))}
      {content.editing.length > 0 && (
        <Line term="Being edited by" value={listed(content.editing.map((person) => person.name))} />
      )}
      <Line
        term="Parent site"
        value={
          content.parent ? (
            <ToSite site={content.parent} />
          ) : content.hasParent === null ? (
            "not known"
          ) : content.hasParent ? (
            "a site outside your scope"
          ) : (
            "no other site"
          )
        }
      />
      {below.length + content.hiddenChildren > 0 && (
        <li className="border-b border-rule py-1.5">
          <p className="flex justify-between gap-3">
            <span className="text-second">Sites below</span>
            <span className="text-right">
              {counted(below.length + content.hiddenChildren, "site")}
              {totals.length > 0 && `, ${totals.join(", ")} together`}
            </span>
          </p>
          <ul className="mt-1 border-l border-rule pl-3">
            {below.map((site) => (
              <li key={site.id}>
                <ToSite site={site} />
              </li>
            ))}
            {content.hiddenChildren > 0 && (
              <li className="text-second">{counted(content.hiddenChildren, "site")} outside your scope</li>
            )}
          </ul>
        </li>
      )}
    </Section>
  );
}

const joinWays = { invited: "by invitation only", asked: "on request; an owner answers", open: "open to join" };

function JoiningLabels({ joining }: { joining: NonNullable<SitePage["content"]["joining"]> }) {
  return (
    <>
      {joinWays[joining.way]}
      {joining.way !== "invited" &&
        (joining.members ? `; people who join may ${joining.members}` : "; what they may do then is not reported")}
      {joining.waiting > 0 && (
        <span className={joining.nobodyAnswers ? "block font-semibold text-madder" : "block"}>
          {counted(joining.waiting, "request waits", "requests wait")}
          {joining.since && `, the first since ${onDay(joining.since)}`}
          {joining.nobodyAnswers && "; no active owner can answer"}
        </span>
      )}
    </>
  );
}

/** The source and the age of each fact. */
export function Sources({ sitePage }: { sitePage: SitePage }) {
  return (
    <Section title="Sources of these facts">
      {sitePage.sources.map((source) => (
        <Line key={source.fact} term={capital(source.fact)} value={`${source.source} ${ago(source.at)}`} />
      ))}
    </Section>
  );
}

function ToSite({ site }: { site: Related }) {
  return (
    <>
      <Link to="/sites/$site" params={{ site: site.id.toString() }} className="underline">
        <bdi>{site.title}</bdi>
      </Link>
      {site.existence === "attic" && <span className="text-second"> (in the attic)</span>}
    </>
  );
}

/** A sum is shown only where every part of it is known. */
function known(sites: Related[], of: (site: Related) => number | null, words: (sum: number) => string): string | null {
  const values = sites.map(of);
  return values.length > 0 && values.every((value) => value !== null)
    ? words(values.reduce((sum, value) => sum + value, 0))
    : null;
}
