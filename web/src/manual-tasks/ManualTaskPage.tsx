import { Notice } from "../ui/Notice";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import type { ReactNode } from "react";
import { api, ok, type Schema } from "../api/client";
import { SidePanel, Steps, Waiting } from "../ui/SidePanel";
import { onDate } from "../ui/words";
import { Cancel, Check, Reassign, ReportResult } from "./ManualTaskForms";
import { manualTaskTitle } from "./useManualTasks";

type ManualTask = Schema["ManualTask"];

/** One manual task: for the assignee, for the person who requested the change, and for the one who checks it. */
export function ManualTaskPage() {
  const { task: id } = useParams({ from: "/books/manual-tasks/$task" });
  const path = { task: id };
  const found = useQuery({
    queryKey: ["manual-task", id],
    queryFn: () => ok(api.GET("/api/manual-tasks/{task}", { params: { path } })),
  });
  if (!found.data) return <Waiting title="A manual task" error={found.error} />;
  const task = found.data;
  const { line } = task;
  return (
    <SidePanel
      title={manualTaskTitle(line)}
      lead={
        <>
          <span className="font-address text-[13px] break-all">{task.address ?? task.key}</span>, on {line.host}
        </>
      }
    >
      <p role="status" className={line.isOverdue ? "mt-3 font-semibold text-madder" : "mt-3 font-semibold"}>
        {standing(task)}
      </p>
      <Steps
        steps={[
          { step: `requested by ${line.by.name}`, at: task.requestedAt },
          { step: `assigned to ${line.to.name}`, at: task.givenAt },
          { step: "reported done", at: task.doneAt },
          { step: "verified", at: task.seenAt },
        ]}
      />
      {task.words && (
        <Notice>
          <bdi>{task.words}</bdi>
        </Notice>
      )}
      <Part title="Wanted result">
        <ul className="list-disc pl-5">
          {line.wanted.map((sentence) => (
            <li key={sentence}>
              <bdi>{sentence}</bdi>
            </li>
          ))}
        </ul>
        {task.logoPicture && (
          <a href={`/api/pictures/${task.logoPicture}`} download={`logo-${task.key}.png`} className="mt-2 inline-block">
            <img
              src={`/api/pictures/${task.logoPicture}`}
              alt="The new logo; follow it to save it"
              className="max-h-24 rounded-[4px] border border-rule-strong"
            />
          </a>
        )}
        {task.reason && <p className="mt-1 text-second">“{task.reason}”</p>}
      </Part>
      <Part title={`Procedure at ${line.host}`}>
        <ol className="list-decimal space-y-1 pl-5">
          {task.steps.map((step) => (
            <li key={step}>
              <bdi>{step}</bdi>
            </li>
          ))}
        </ol>
        <dl className="mt-3 grid grid-cols-[max-content_1fr] gap-x-4 gap-y-1 text-[14px]">
          <dt className="text-second">Account to use</dt>
          <dd>{task.account || "not set"}</dd>
          <dt className="text-second">If it does not work</dt>
          <dd>{task.support || "not set"}</dd>
        </dl>
      </Part>
      {task.report && (
        <Part title={`Report of ${task.doneBy?.name ?? "the assignee"}`}>
          <p className="whitespace-pre-wrap">
            <bdi>“{task.report}”</bdi>
          </p>
        </Part>
      )}
      {task.hasPicture && (
        <img
          src={`/api/manual-tasks/${line.hostChange}/picture`}
          alt="The result"
          className="mt-3 max-h-[320px] rounded-[4px] border border-rule-strong"
        />
      )}
      {task.mayDo && <ReportResult task={task} />}
      {task.mayCheck && <Check task={task} />}
      {task.noCheck && <p className="mt-4 text-second">{task.noCheck}</p>}
      {(task.mayReassign || task.mayCancel) && (
        <div className="mt-6 flex flex-wrap gap-x-2 gap-y-4 border-t border-rule pt-4">
          {task.mayReassign && <Reassign task={task} />}
          {task.mayCancel && <Cancel task={task} />}
        </div>
      )}
      <p className="mt-6 flex gap-4">
        {task.site !== null && (
          <Link to="/sites/$site" params={{ site: task.site.toString() }} className="underline">
            To the site
          </Link>
        )}
        <Link to="/your-sites" className="underline">
          To your sites
        </Link>
      </p>
    </SidePanel>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h2 className="text-[17px]">{title}</h2>
      <div className="mt-1">{children}</div>
    </section>
  );
}

function standing({ line, checkedBy }: ManualTask): string {
  switch (line.state) {
    case "sent":
      return line.isOverdue
        ? `Overdue: it was due on ${onDate(line.through)}.`
        : `${line.returned > 0 ? "It was returned, because the result was not as wanted. " : ""}Due at the end of ${onDate(line.through)}.`;
    case "confirmed":
      return "Reported done. The next import of a list or a second person verifies it.";
    case "verified":
      return checkedBy ? `Done, and ${checkedBy.name} checked it.` : "Done, and a list confirms it.";
    case "refused":
      return `${line.to.name} reported that it failed. Nothing has changed.`;
    case "withdrawn":
      return "Cancelled. Do not do it any more.";
    default:
      return `It was ${line.state}.`;
  }
}
