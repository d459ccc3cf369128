import { useState, type ReactNode } from "react";
import { api, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { Button } from "../ui/Button";
import { Field, fileLook, LongField } from "../ui/Field";
import { useManualTaskStep } from "./useManualTasks";

type ManualTask = Schema["ManualTask"];

const pathOf = (task: ManualTask) => ({ path: { task: task.line.hostChange } });

/** The assignee reports that the task is done, with evidence, or that it failed. */
export function ReportResult({ task }: { task: ManualTask }) {
  const [message, setMessage] = useState("");
  const params = pathOf(task);
  const done = useManualTaskStep(() =>
    api.POST("/api/manual-tasks/{task}/done", { params, body: { report: message || null } }),
  );
  const cannot = useManualTaskStep(() =>
    api.POST("/api/manual-tasks/{task}/report-failure", { params, body: { words: message || null } }),
  );
  const picture = useManualTaskStep((file: File) =>
    api.PUT("/api/manual-tasks/{task}/picture", {
      params,
      body: file as unknown as string,
      bodySerializer: (body: unknown) => body as File,
      headers: { "Content-Type": file.type },
    }),
  );
  return (
    <section className="mt-6 border-l-[6px] border-brass bg-bookmark px-4 py-3" aria-label="Report the result">
      <h2 className="text-[17px]">Report the result</h2>
      <LongField
        label="What you did, and how somebody can check it"
        value={message}
        maxLength={2000}
        onChange={(event) => setMessage(event.target.value)}
        hint="Or why it failed. The journal keeps it, and the person who requested the change reads it."
      />
      <label className="mt-3 block font-semibold">
        A picture of the result (optional)
        <input
          type="file"
          accept="image/png,image/jpeg"
          className={fileLook}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) picture.mutate(file);
          }}
        />
      </label>
      <ActionFault error={done.error ?? cannot.error ?? picture.error} />
      <div className="mt-3 flex flex-wrap gap-2">
        <Button look="primary" className="py-2" disabled={done.isPending} onClick={() => done.mutate(undefined)}>
          Report it done
        </Button>
        <Button className="py-2" disabled={cannot.isPending} onClick={() => cannot.mutate(undefined)}>
          Report that it failed
        </Button>
      </div>
    </section>
  );
}

/** A second person checks the site at its host and reports the result. */
export function Check({ task }: { task: ManualTask }) {
  const [message, setMessage] = useState("");
  const check = useManualTaskStep((isSo: boolean) =>
    api.POST("/api/manual-tasks/{task}/check", { params: pathOf(task), body: { isSo, words: message || null } }),
  );
  return (
    <section className="mt-6 border-l-[3px] border-slate pl-3" aria-label="Check the result">
      <h2 className="text-[17px]">Check the result</h2>
      <p className="mt-1">Open the site at {task.line.host} and check it yourself; nobody else has confirmed it yet.</p>
      <Field
        label="What you found (required if the result is wrong)"
        value={message}
        maxLength={2000}
        onChange={(event) => setMessage(event.target.value)}
      />
      <ActionFault error={check.error} />
      <div className="mt-3 flex flex-wrap gap-2">
        <Button look="primary" className="py-2" disabled={check.isPending} onClick={() => check.mutate(true)}>
          Confirm the result
        </Button>
        <Button className="py-2" disabled={check.isPending} onClick={() => check.mutate(false)}>
          Return the task
        </Button>
      </div>
    </section>
  );
}

export function Reassign({ task }: { task: ManualTask }) {
  const [to, setTo] = useState("");
  const step = useManualTaskStep(
    () => api.POST("/api/manual-tasks/{task}/reassign", { params: pathOf(task), body: { to } }),
    () => setTo(""),
  );
  return (
    <Unfolded label="Reassign …" error={step.error}>
      <Field
        label="New assignee"
        type="email"
        placeholder="a mail address"
        value={to}
        onChange={(event) => setTo(event.target.value)}
        hint="The new assignee has as many days as the first one had."
      />
      <Button className="mt-2" disabled={to.trim() === "" || step.isPending} onClick={() => step.mutate(undefined)}>
        Reassign the task
      </Button>
    </Unfolded>
  );
}

export function Cancel({ task }: { task: ManualTask }) {
  const [message, setMessage] = useState("");
  const step = useManualTaskStep(() =>
    api.POST("/api/manual-tasks/{task}/cancel", { params: pathOf(task), body: { words: message || null } }),
  );
  return (
    <Unfolded label="Cancel the task …" error={step.error}>
      <Field
        label={`What ${task.line.to.name} should know (optional)`}
        value={message}
        maxLength={2000}
        onChange={(event) => setMessage(event.target.value)}
      />
      <Button className="mt-2" disabled={step.isPending} onClick={() => step.mutate(undefined)}>
        Cancel the task
      </Button>
    </Unfolded>
  );
}

function Unfolded({ label, error, children }: { label: string; error: Error | null; children: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <div className={isOpen ? "w-full" : ""}>
      <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {label}
      </Button>
      {isOpen && children}
      {isOpen && <ActionFault error={error} />}
    </div>
  );
}
