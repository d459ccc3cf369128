import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { labels } from "../api/labels";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { atMinute, capital, counted, listed, onDate, onDay } from "../ui/words";
import { Remarks } from "./Remarks";
import { useStart } from "./useStart";
import { reachInWords } from "./words";

type Request = Schema["SiteRequest"];

/** A request to start a site: what was asked for, the verdict of today, its answer, and how far it is made. */
export function SiteRequestPage() {
  const { request: id } = useParams({ from: "/books/site-requests/$request" });
  const request = useQuery({
    queryKey: ["site request", id],
    queryFn: () => ok(api.GET("/api/site-requests/{request}", { params: { path: { request: id } } })),
    refetchInterval: (query) => (query.state.data?.line.state === "being-made" ? 1000 : false),
  });
  if (!request.data) return <Waiting title="A request" error={request.error} />;
  const { line, answeredBy, answer } = request.data;
  return (
    <SidePanel
      title={line.name}
      lead={
        <>
          <span className="font-address text-[13px] break-all">{line.address}</span>
          <span className="block text-[13px]">
            {line.kind} on {line.host}, asked for by {line.by.name} on {onDay(line.requestedAt)}
          </span>
        </>
      }
    >
      <p role="status" className="mt-4 text-[16px] font-semibold">
        {capital(standing(request.data))}
      </p>
      {answeredBy && (
        <p className="text-second">
          {line.state === "refused" ? "Refused" : "Granted"} by {answeredBy.name}
          {answer ? `: “${answer}”` : "."}
        </p>
      )}
      <Making request={request.data} />
      {line.state === "requested" && request.data.fields.length > 0 && (
        <section className="mt-4 border-l-[3px] border-ochre pl-3">
          <h2 className="font-text text-[14.5px] font-bold">What the rules say today</h2>
          <Remarks remarks={request.data.fields} />
        </section>
      )}
      <Answer request={request.data} />
      <Wanted request={request.data} />
    </SidePanel>
  );
}

const standing = ({ line, nextTry, byHand }: Request) => {
  switch (line.state) {
    case "requested":
      return `waits for an administrator's answer until the end of ${onDate(line.through)}`;
    case "being-made":
      return byHand
        ? line.step === "site"
          ? `to be made at ${line.host} by hand`
          : `reported as made; the next list of ${line.host} has to name it`
        : nextTry
          ? `being made: ${line.host} is asked again at ${atMinute(nextTry)}`
          : "being made";
    case "stopped":
      return "making it stopped";
    case "in-use":
      return "ready: it is in use";
    case "refused":
      return "refused";
    case "given-up":
      return "given up";
  }
};

/** The steps at the host, with what it said last. */
function Making({ request }: { request: Request }) {
  const { line, steps, message, attempts, wasWider, byHand } = request;
  if (line.state === "requested" || line.state === "refused") return null;
  return (
    <section className="mt-4" aria-label="Steps">
      <ol className="space-y-1">
        {steps.map(({ step, isDone }) => {
          const isNow = line.step === step && !isDone;
          return (
            <li key={step} className="flex items-baseline gap-2">
              <span
                aria-hidden="true"
                className={
                  isDone ? "text-moss" : isNow && line.state === "stopped" ? "font-bold text-madder" : "text-second"
                }
              >
                {isDone ? "✓" : isNow ? (line.state === "stopped" ? "✕" : "…") : "·"}
              </span>
              <span className={isDone || isNow ? "" : "text-second"}>
                {capital(labels.MakingStep[step])}
                <span className="text-[13px] text-second">
                  {isDone
                    ? ": done"
                    : isNow
                      ? line.state === "stopped"
                        ? ": stopped here"
                        : attempts > 1
                          ? `: tried ${attempts} times`
                          : ": under way"
                      : line.state === "given-up"
                        ? ": not done"
                        : ": to come"}
                </span>
              </span>
            </li>
          );
        })}
      </ol>
      {message && !byHand && (
        <Notice tone={line.state === "stopped" ? "error" : "warning"} role="status">
          {line.state === "stopped" ? "Stopped because" : "Waiting because"}: <bdi>{message}</bdi>
        </Notice>
      )}
      {byHand && line.state === "being-made" && (
        <Notice>
          {line.host} has no connector that makes sites.{" "}
          {byHand.assignee ? `${byHand.assignee.name} makes it` : "Somebody makes it"}
          {byHand.account && `, with the account ${byHand.account}`}. It has to be at {line.address}.
          {byHand.support && ` Help: ${byHand.support}.`}
        </Notice>
      )}
      {wasWider && (
        <Notice>
          {line.host} gave it more access than was granted. A change restricts it;{" "}
          {line.site ? (
            <Link to="/sites/$site" params={{ site: line.site.toString() }} className="underline">
              the site's page
            </Link>
          ) : (
            "the site's page"
          )}{" "}
          shows how far that is.
        </Notice>
      )}
      {line.state === "in-use" && line.site && (
        <p className="mt-3">
          <Link to="/sites/$site" params={{ site: line.site.toString() }} className="font-semibold underline">
            Open the site's page
          </Link>
        </p>
      )}
      {line.state === "given-up" && steps.some(({ isDone }) => isDone) && (
        <p className="mt-3 text-second">
          What was made at {line.host} stays there; the next sync brings it into the register.
        </p>
      )}
    </section>
  );
}

function Answer({ request }: { request: Request }) {
  const { line, actions, fingerprint, fields } = request;
  const [reason, setReason] = useState("");
  const params = { path: { request: line.id } };
  const words = reason.trim() || null;
  const grant = useAction<undefined, Schema["StartDone"]>(() =>
    api.POST("/api/site-requests/{request}/grant", { params, body: { fingerprint, reason: words } }),
  );
  const refuse = useAction<undefined, Schema["StartDone"]>(() =>
    api.POST("/api/site-requests/{request}/refuse", { params, body: { reason: words } }),
  );
  const withdraw = useAction<undefined, Schema["StartDone"]>(() =>
    api.POST("/api/site-requests/{request}/withdraw", { params, body: {} }),
  );
  const resume = useAction<undefined, Schema["StartDone"]>(() =>
    api.POST("/api/site-requests/{request}/resume", { params, body: {} }),
  );
  const giveUp = useAction<undefined, Schema["StartDone"]>(() =>
    api.POST("/api/site-requests/{request}/give-up", { params, body: {} }),
  );
  const report = useAction<undefined, Schema["StartDone"]>(() =>
    api.POST("/api/site-requests/{request}/report", { params, body: {} }),
  );
  if (actions.length === 0) return null;
  const may = (action: Schema["RequestActionKind"]) => actions.includes(action);
  const all = [grant, refuse, withdraw, resume, giveUp, report];
  const isBusy = all.some(({ isPending }) => isPending);
  const isPossible = fields.every(({ weight }) => weight !== "refusal");
  return (
    <section className="mt-4" aria-label="Your answer">
      {may("refuse") && (
        <Field
          label="Reason (needed to refuse)"
          value={reason}
          maxLength={500}
          onChange={(event) => setReason(event.target.value)}
          hint={`${line.by.name} reads it, and the journal keeps it.`}
        />
      )}
      <ActionFault error={all.find(({ error }) => error)?.error ?? null} />
      <div className="mt-3 flex flex-wrap gap-2">
        {may("grant") && isPossible && (
          <Button look="primary" className="py-2" disabled={isBusy} onClick={() => grant.mutate(undefined)}>
            Grant it and make the site
          </Button>
        )}
        {may("refuse") && (
          <Button className="py-2" disabled={isBusy} onClick={() => refuse.mutate(undefined)}>
            Refuse it
          </Button>
        )}
        {may("withdraw") && (
          <Button className="py-2" disabled={isBusy} onClick={() => withdraw.mutate(undefined)}>
            Withdraw the request
          </Button>
        )}
        {may("resume") && (
          <Button look="primary" className="py-2" disabled={isBusy} onClick={() => resume.mutate(undefined)}>
            Go on where it stopped
          </Button>
        )}
        {may("give-up") && (
          <Button className="py-2" disabled={isBusy} onClick={() => giveUp.mutate(undefined)}>
            Give it up
          </Button>
        )}
        {may("report") && (
          <Button look="primary" className="py-2" disabled={isBusy} onClick={() => report.mutate(undefined)}>
            Report that it is made
          </Button>
        )}
      </div>
    </section>
  );
}

const nameOf = (choices: { code: string; name: string }[] | undefined, code: string | null) =>
  choices?.find((one) => one.code === code)?.name ?? code;

/** What was asked for, as it was filled in. */
function Wanted({ request }: { request: Request }) {
  const { wanted, people, reach } = request;
  const start = useStart().data;
  const names = (mails: string[]) =>
    listed(
      mails.map((mail) => {
        const person = people.find((one) => one.mail === mail)?.person;
        return person ? `${person.name}${person.isOutside ? " (from outside)" : ""}` : mail;
      }),
    );
  const rows: [string, string | false | null][] = [
    ["Owners", names(wanted.owners)],
    ["Editors", wanted.editors.length > 0 && names(wanted.editors)],
    [
      "Can view it",
      reach ? `${reachInWords(reach.reach)}: ${counted(reach.people, "person", "people")}` : reachInWords(wanted.reach),
    ],
    [
      "Asked for",
      reach !== null && reachInWords(reach.reach) !== reachInWords(wanted.reach) && reachInWords(wanted.reach),
    ],
    ["Purpose", nameOf(start?.purposes, wanted.purpose)],
    ["Unit", nameOf(start?.units, wanted.unit)],
    ["Classification", nameOf(start?.classifications, wanted.classification) ?? "not set"],
    ["Tags", listed(wanted.tags.map((tag) => nameOf(start?.tags, tag) ?? tag))],
    ["Description", wanted.description],
    ["Language", wanted.language],
    ["Last day", wanted.ends && onDate(wanted.ends)],
    ["Content notice", wanted.contentNotice],
  ];
  return (
    <section className="mt-6">
      <h2 className="text-[17px]">What was asked for</h2>
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        {rows
          .filter(([, value]) => value)
          .map(([label, value]) => (
            <div key={label} className="contents">
              <dt className="text-second">{label}</dt>
              <dd>
                <bdi>{value}</bdi>
              </dd>
            </div>
          ))}
      </dl>
    </section>
  );
}
