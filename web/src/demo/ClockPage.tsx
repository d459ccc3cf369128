import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok } from "../api/client";
import { Button } from "../ui/Button";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { counted, inFull } from "../ui/words";

const steps = [
  { hours: 1, words: "one hour" },
  { hours: 24, words: "a day" },
  { hours: 72, words: "three days" },
  { hours: 24 * 15, words: "15 days" },
  { hours: 24 * 31, words: "31 days" },
];

/** Moves the demo's clock forward, for Attic Ledger and the simulated hosts alike. */
export function ClockPage() {
  const queries = useQueryClient();
  const clock = useQuery({ queryKey: ["clock"], queryFn: () => ok(api.GET("/api/clock")), refetchInterval: 10_000 });
  const move = useMutation({
    mutationFn: (hours: number) => ok(api.POST("/api/clock", { body: { hours } })),
    onSettled: () => queries.invalidateQueries(),
  });
  if (!clock.data) return <Waiting title="The demo's clock" error={clock.error} />;
  return (
    <SidePanel
      title="The demo's clock"
      lead="Move the clock to see what happens on later days. It moves forward only, and the simulated hosts move with it."
    >
      <p className="mt-4 font-title text-[20px]">{inFull(clock.data.now)}</p>
      <p className="text-second">
        {clock.data.aheadSeconds === 0
          ? "The clock shows the real time."
          : `Ahead of the real time by ${counted(Math.floor(clock.data.aheadSeconds / 86_400), "day")} and ${counted(Math.floor((clock.data.aheadSeconds % 86_400) / 3600), "hour")}.`}
      </p>
      <fieldset className="mt-5">
        <legend className="font-semibold">Move it forward by</legend>
        <div className="mt-2 flex flex-wrap gap-2">
          {steps.map((step) => (
            <Button key={step.hours} disabled={move.isPending} onClick={() => move.mutate(step.hours)}>
              {step.words}
            </Button>
          ))}
        </div>
      </fieldset>
      <p role="status" className="mt-3">
        {move.isPending
          ? "Moving …"
          : move.data
            ? move.data.due === 0
              ? "Moved. Nothing was due."
              : `Moved; ${counted(move.data.due, "thing")} fell due and ${move.data.due === 1 ? "is" : "are"} done; see the journal.`
            : ""}
      </p>
      {move.error && (
        <p role="alert" className="mt-2 text-madder">
          {move.error.message}
        </p>
      )}
    </SidePanel>
  );
}
