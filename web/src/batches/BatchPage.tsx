import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { atMinute, capital, counted, digits } from "../ui/words";
import { selection } from "./selection";
import { BatchEffect } from "./BatchEffect";
import { BatchLines } from "./BatchLines";
import { BatchTally } from "./BatchTally";
import { useAdjust } from "./useAdjust";
import { countOf, startOf, titleOf } from "./words";

type Batch = Schema["Batch"];

/** One action on many sites: its plan, its progress, and a result for each site. */
export function BatchPage() {
  const { batch: id } = useParams({ from: "/books/batches/$batch" });
  const [outcome, setOutcome] = useState<Schema["BatchOutcome"]>();
  const batch = useQuery({
    queryKey: ["batch", id],
    queryFn: () => ok(api.GET("/api/batches/{batch}", { params: { path: { batch: id } } })),
  });
  const lines = useInfiniteQuery({
    queryKey: ["batch-lines", id, outcome],
    queryFn: ({ pageParam }) =>
      ok(
        api.GET("/api/batches/{batch}/lines", {
          params: { path: { batch: id }, query: { ...(outcome && { outcome }), offset: pageParam, limit: 200 } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const read = pages.reduce((sum, page) => sum + page.lines.length, 0);
      return read < last.total ? read : undefined;
    },
  });
  const data = batch.data;
  const title = data
    ? titleOf(data, data.state === "planned" ? countOf(data, "waiting") : data.sites)
    : "An action on many sites";
  useEffect(() => {
    document.title = `${title} · Attic Ledger`;
  }, [title]);
  if (!data) {
    return (
      <main className="p-8">
        <h1 className="text-[21px]">{title}</h1>
        <p role="status" className="mt-2 text-second">
          {batch.error ? `${batch.error.message} A plan that nobody starts is deleted after a day.` : "…"}
        </p>
        <p className="mt-3">
          <Link to="/" className="underline">
            To the register
          </Link>
        </p>
      </main>
    );
  }
  return (
    <main className="flex min-h-0 flex-1 max-md:flex-col max-md:overflow-auto">
      <div className="min-w-0 overflow-auto max-md:shrink-0 md:flex-1">
        <div className="px-5 pt-3.5 pb-3">
          <h1 className="text-[21px]">{title}</h1>
          <p className="mt-1 text-second">{progressText(data)}</p>
          {data.undoes && <Other batch={data.undoes}>Undoes an earlier batch</Other>}
          {data.undoneBy && <Other batch={data.undoneBy}>Undone later, site by site</Other>}
          <BatchTally batch={data} chosen={outcome} onChoose={setOutcome} />
        </div>
        <BatchLines
          lines={lines.data?.pages.flatMap((page) => page.lines) ?? []}
          batch={data}
          total={lines.data?.pages[0]?.total ?? 0}
          onMore={lines.hasNextPage ? () => void lines.fetchNextPage() : undefined}
        />
      </div>
      <aside
        aria-label="The action"
        className="shrink-0 border-double border-margin-rule px-5 py-4 max-md:border-t-4 md:w-[344px] md:overflow-auto md:border-l-4"
      >
        <BatchEffect batch={data} />
        {data.mayAdjust && <ForAll batch={data} />}
        {data.maySteer && <Steer batch={data} />}
        {data.mayUndo && <Undo batch={data} />}
      </aside>
    </main>
  );
}

function progressText(batch: Batch): string {
  const reason = batch.reason ? ` “${batch.reason}”` : "";
  switch (batch.state) {
    case "planned":
      return `Nothing has been done yet. This is the plan for each site on today's facts.${reason}`;
    case "running":
      return `${batch.by.name} started it ${atMinute(batch.startedAt ?? batch.plannedAt)}.${reason} It continues without you; you can leave this page.`;
    case "stopped":
      return batch.words ?? `Stopped. What was done stays done; ${digits(countOf(batch, "waiting"))} wait.${reason}`;
    default:
      return `${batch.by.name} started it ${atMinute(batch.startedAt ?? batch.plannedAt)}; the last site was processed ${atMinute(batch.endedAt ?? batch.plannedAt)}.${reason}`;
  }
}

function Other({ batch, children }: { batch: string; children: string }) {
  return (
    <p className="mt-1">
      <Link to="/batches/$batch" params={{ batch }} className="underline">
        {children}
      </Link>
    </p>
  );
}

/** One choice for all sites of a plan; on a site where it is not possible, what is planned stays. */
function ForAll({ batch }: { batch: Batch }) {
  const adjust = useAdjust(batch);
  const choose = (action: Schema["ActionName"] | null) => adjust.mutate({ sites: null, action });
  return (
    <fieldset className="mt-5 border-t border-rule-strong pt-3" disabled={adjust.isPending}>
      <legend className="sr-only">For all sites</legend>
      <p aria-hidden="true" className="font-bold">
        For all sites
      </p>
      <div className="mt-1 flex flex-wrap gap-x-4">
        <button type="button" className="min-h-6 underline" onClick={() => choose(batch.action)}>
          What is proposed
        </button>
        <button type="button" className="min-h-6 underline" onClick={() => choose("exception.grant")}>
          An exception
        </button>
        <button type="button" className="min-h-6 underline" onClick={() => choose(null)}>
          Leave out
        </button>
      </div>
      {adjust.error && (
        <p role="alert" className="mt-2 text-madder">
          {adjust.error.message}
        </p>
      )}
    </fieldset>
  );
}

/** Undoing is a batch too: planned first, each site on today's facts. */
function Undo({ batch }: { batch: Batch }) {
  const navigate = useNavigate();
  const plan = useMutation({
    mutationFn: () => ok(api.POST("/api/batches/{batch}/undo/plan", { params: { path: { batch: batch.id } } })),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  return (
    <div className="mt-5 border-t border-rule-strong pt-3">
      <p>You can undo it on all its sites. You see the plan first.</p>
      <Button className="mt-2" disabled={plan.isPending} onClick={() => plan.mutate()}>
        Undo on all sites …
      </Button>
      {plan.error && (
        <p role="alert" className="mt-2 text-madder">
          {plan.error.message}
        </p>
      )}
    </div>
  );
}

/** What the person who planned it can do now. */
function Steer({ batch }: { batch: Batch }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [reason, setReason] = useState("");
  const [number, setNumber] = useState("");
  const [password, setPassword] = useState("");
  const path = { params: { path: { batch: batch.id } } };
  const steer = useMutation({
    mutationFn: (what: "start" | "stop" | "resume" | "again") => {
      switch (what) {
        case "start":
          return ok(
            api.POST("/api/batches/{batch}/start", {
              ...path,
              body: {
                number: number === "" ? null : Number(number),
                reason: reason || null,
                password: password || null,
              },
            }),
          );
        case "stop":
          return ok(api.POST("/api/batches/{batch}/stop", path));
        case "resume":
          return ok(api.POST("/api/batches/{batch}/resume", path));
        default:
          return ok(api.POST("/api/batches/{batch}/again", path));
      }
    },
    onSuccess: async ({ id }, what) => {
      if (what === "start") selection.clear();
      if (what === "again") await navigate({ to: "/batches/$batch", params: { batch: id } });
    },
    onSettled: () => queries.invalidateQueries(),
  });
  const waiting = countOf(batch, "waiting");
  const left = countOf(batch, "changed", "refused", "host-refused", "contradicted");
  return (
    <div className="mt-5 border-t border-rule-strong pt-3">
      {batch.state === "planned" && waiting > 0 && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            steer.mutate("start");
          }}
        >
          {batch.wantsNumber && (
            <Field
              label="How many sites"
              inputMode="numeric"
              autoComplete="off"
              value={number}
              onChange={(event) => setNumber(event.target.value.replace(/\D/g, ""))}
              hint={
                <>
                  Other people use them: type <b className="text-ink">{waiting}</b>
                </>
              }
            />
          )}
          {batch.reason === null && <Reason value={reason} onChange={setReason} isNeeded={batch.wantsReason} />}
          {batch.wantsPassword && (
            <Field
              label="Your password, to confirm your identity"
              type="password"
              autoComplete="current-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
          )}
          <Button
            type="submit"
            look="primary"
            className="mt-4 py-2"
            disabled={
              steer.isPending ||
              (batch.wantsNumber && number !== waiting.toString()) ||
              (batch.wantsPassword && password === "") ||
              (batch.wantsReason && batch.reason === null && reason.trim() === "")
            }
          >
            {startOf(batch, waiting)}
          </Button>
        </form>
      )}
      {batch.state === "planned" && waiting === 0 && <p>It is not possible on any of these sites.</p>}
      {batch.state === "running" && (
        <Button disabled={steer.isPending} onClick={() => steer.mutate("stop")}>
          Stop before the next site
        </Button>
      )}
      {batch.state === "stopped" && (
        <Button look="primary" disabled={steer.isPending} onClick={() => steer.mutate("resume")}>
          Continue with {counted(waiting, "site")}
        </Button>
      )}
      {batch.state === "ended" && left > 0 && (
        <>
          <p>{capital(counted(left, "site was", "sites were"))} skipped or refused.</p>
          <Button className="mt-2" disabled={steer.isPending} onClick={() => steer.mutate("again")}>
            Plan again for {left === 1 ? "it" : "them"}
          </Button>
        </>
      )}
      {steer.error && (
        <p role="alert" className="mt-2 text-madder">
          {steer.error.message}
        </p>
      )}
    </div>
  );
}
