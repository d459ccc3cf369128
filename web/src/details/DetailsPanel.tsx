import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { useState } from "react";
import type { Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { useSitePage } from "../api/useSitePage";
import { AtticEntryNotes } from "../attic/AtticEntryNotes";
import { onDay } from "../ui/words";
import { underTitle } from "../site-parts/underTitle";
import { Arithmetic } from "./Arithmetic";
import { QuestionClock } from "../site-parts/Question";
import { Exceptions } from "./Exceptions";
import { Fault } from "./Fault";
import { RestrictForm } from "./RestrictForm";
import { ChangeProgress } from "./ChangeProgress";

const copies = { view: "published site", preview: "draft", edit: "editing" };

/** The details of the row in focus: findings, access arithmetic, the remedy and its predicted effect. */
export function DetailsPanel({ site }: { site: number }) {
  const sitePage = useSitePage(site);
  if (!sitePage.data) {
    return <p className="p-5 text-second">{sitePage.error ? sitePage.error.message : "…"}</p>;
  }
  return (
    <div className="px-5 py-4">
      <h2 className="text-[17px] break-words">
        <Link to="/sites/$site" params={{ site: site.toString() }} className="hover:underline">
          <bdi>{sitePage.data.line.title}</bdi>
        </Link>
      </h2>
      <p className="font-address text-[12.5px] break-all text-second">{underTitle(sitePage.data.line)}</p>
      <Notes sitePage={sitePage.data} />
    </div>
  );
}

const otherAction =
  "rounded-[4px] border border-rule-strong bg-sheet px-3 py-1.5 text-[13px] font-semibold text-ink hover:bg-bar";

const remedyLook = "mr-4 inline-block min-h-6 text-[13px] font-semibold underline";

/** The actions that clear a finding, next to it, or what they leave and who can change that. */
function Remedies({ explained, sitePage }: { explained: Schema["Explained"]; sitePage: Schema["SitePage"] }) {
  const named = <span className="sr-only">({explained.finding.rule})</span>;
  const site = sitePage.line.id;
  const mayDecide = useMe()?.role === "administrator";
  const left = new Map(
    sitePage.grants.flatMap(({ who, person, hasLeft }) => (hasLeft && person ? [[person, who]] : [])),
  );
  return (
    <>
      {explained.left.length > 0 && (
        <ul className="mt-0.5 list-disc pl-4 text-[13px] text-ochre">
          {explained.left.map((sentence) => (
            <li key={sentence}>
              <bdi>{sentence}</bdi>
            </li>
          ))}
        </ul>
      )}
      {explained.remedies.map((remedy) => {
        switch (remedy) {
          case "add-owner":
            return (
              !sitePage.noHandOver && (
                <Link
                  key={remedy}
                  to="/sites/$site/add-owner"
                  params={{ site: site.toString() }}
                  className={remedyLook}
                >
                  Add an owner … {named}
                </Link>
              )
            );
          case "restrict":
            return (
              <button
                key={remedy}
                type="button"
                className={remedyLook}
                onClick={() => (document.getElementById("remedy") ?? document.getElementById("restrict"))?.focus()}
              >
                Restrict … {named}
              </button>
            );
          case "set-fact":
            return (
              mayDecide && (
                <Link
                  key={remedy}
                  to="/sites/$site"
                  params={{ site: site.toString() }}
                  hash="set-here"
                  className={remedyLook}
                >
                  Set it … {named}
                </Link>
              )
            );
          case "move-to-attic":
            return (
              sitePage.mayAct && (
                <Link
                  key={remedy}
                  to="/sites/$site/move-to-attic"
                  params={{ site: site.toString() }}
                  className={remedyLook}
                >
                  Move it to the attic … {named}
                </Link>
              )
            );
          case "rename":
            return (
              sitePage.mayAct && (
                <Link key={remedy} to="/sites/$site/look" params={{ site: site.toString() }} className={remedyLook}>
                  Rename … {named}
                </Link>
              )
            );
          case "present":
            return (
              sitePage.mayAct && (
                <Link key={remedy} to="/sites/$site/look" params={{ site: site.toString() }} className={remedyLook}>
                  Change it … {named}
                </Link>
              )
            );
          case "tell-apart":
            return (
              <Link key={remedy} to="/twins" className={remedyLook}>
                Near names … {named}
              </Link>
            );
          default:
            return [...left].map(([person, who]) => (
              <Link key={person} to="/remove-access" search={{ person, site }} className={remedyLook}>
                Remove the access of <bdi>{who}</bdi> … {named}
              </Link>
            ));
        }
      })}
    </>
  );
}

/** Shared by the register's details and the site page. */
export function Notes({ sitePage, arithmetic = true }: { sitePage: Schema["SitePage"]; arithmetic?: boolean }) {
  const [inUse, setInUse] = useState<number>();
  // The strongest power that exceeds policy is shown first.
  const now = sitePage.accessPaths.filter(({ power }) => !(power === "view" && sitePage.line.status === "offline"));
  const shown = [...now].reverse().find((accessPath) => accessPath.exceeds === "yes") ?? now[0];
  const exceeds = sitePage.accessPaths.some((accessPath) => accessPath.exceeds === "yes");
  const broken = sitePage.findings.filter(({ finding, isExcepted }) => !isExcepted && !finding.cannotTell);
  const wide =
    broken.some(({ remedies }) => remedies.includes("restrict")) ||
    (exceeds && !broken.some(({ remedies }) => remedies.includes("remove-access")));
  if (sitePage.line.fault) {
    return (
      <>
        <Fault why={sitePage.line.fault} />
        <ChangeProgress
          hostChanges={sitePage.hostChanges}
          site={sitePage.line.id}
          mayAct={false}
          host={sitePage.line.host}
        />
      </>
    );
  }
  if (sitePage.existence !== "in-use") return <AtticEntryNotes site={sitePage.line.id} />;
  return (
    <>
      {sitePage.hostChanges[0]?.purpose === "restore" && (
        <section aria-label="Restored" className="mt-4 border-l-[3px] border-slate pl-3">
          <AtticEntryNotes site={sitePage.line.id} />
        </section>
      )}
      {sitePage.findings.map((explained) => (
        <section
          key={explained.finding.rule}
          className={clsx(
            "mt-4 border-l-[3px] pl-3",
            explained.finding.cannotTell || explained.isExcepted
              ? "border-rule-strong"
              : { critical: "border-madder", warning: "border-ochre", note: "border-slate" }[explained.finding.level],
          )}
        >
          <h3 className="font-text text-[14.5px] font-bold">
            {explained.isExcepted && <span className="text-second">Exception: </span>}
            {explained.headline}
          </h3>
          <p className="mt-0.5 text-[13px] text-second">
            {explained.detail} <span className="whitespace-nowrap">{explained.finding.rule}</span>
            {explained.finding.since ? `, since ${onDay(explained.finding.since)}` : ""}.
          </p>
          {sitePage.mayAct && !explained.isExcepted && !explained.finding.cannotTell && (
            <Remedies explained={explained} sitePage={sitePage} />
          )}
          {explained.question && !explained.isExcepted && (
            <QuestionClock question={explained.question} mayAsk={sitePage.mayException} />
          )}
          <Exceptions site={sitePage.line.id} explained={explained} mayException={sitePage.mayException} />
        </section>
      ))}
      {sitePage.findings.length === 0 && (
        <p className="mt-4 border-l-[3px] border-moss pl-3 text-moss">This site breaks no rule.</p>
      )}
      {arithmetic && shown && (
        <section className="mt-5">
          <h3 className="font-text text-[14px] font-bold">Access: {copies[shown.power as keyof typeof copies]}</h3>
          <Arithmetic accessPath={shown} />
          {sitePage.front && shown.power === "view" && (
            <p className="mt-1 text-[13px]">
              <a className="underline" href={sitePage.front} target="_blank" rel="noreferrer">
                See it as an anonymous visitor
              </a>
            </p>
          )}
        </section>
      )}
      <ChangeProgress
        hostChanges={sitePage.hostChanges}
        site={sitePage.line.id}
        mayAct={sitePage.mayAct}
        host={sitePage.line.host}
      />
      {sitePage.mayAct && (wide || inUse === sitePage.line.id) && (
        <RestrictForm
          sitePage={sitePage}
          onUse={(isInUse) => {
            setInUse(isInUse ? sitePage.line.id : undefined);
          }}
        />
      )}
      {sitePage.mayAct && (
        <p className="mt-5 flex flex-wrap gap-2 border-t border-rule pt-3">
          <Link to="/sites/$site/add-owner" params={{ site: sitePage.line.id.toString() }} className={otherAction}>
            Add an owner …
          </Link>
          <Link to="/sites/$site/hand-over" params={{ site: sitePage.line.id.toString() }} className={otherAction}>
            Hand over …
          </Link>
          <Link to="/sites/$site/look" params={{ site: sitePage.line.id.toString() }} className={otherAction}>
            Rename …
          </Link>
          <Link to="/sites/$site/move-to-attic" params={{ site: sitePage.line.id.toString() }} className={otherAction}>
            Move to the attic …
          </Link>
        </p>
      )}
    </>
  );
}
