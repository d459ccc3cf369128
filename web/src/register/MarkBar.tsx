import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { api, ok } from "../api/client";
import { bulkDeeds } from "../batches/words";
import { Button } from "../ledger/Button";
import { counted } from "../ledger/words";
import { marks, useMarks } from "./marks";

/** What can be done on all sites that are marked. Each leads to its plan; nothing is done here. */
export function MarkBar({ note }: { note: string | null }) {
  const marked = useMarks();
  const navigate = useNavigate();
  const plan = useMutation({
    mutationFn: (deed: string) => ok(api.POST("/api/batches", { body: { deed, sites: [...marked] } })),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  if (marked.size === 0) return null;
  return (
    <section
      aria-label="Marked sites"
      className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1.5 border-t-2 border-brass bg-bookmark px-5 py-2"
    >
      <p role="status" className="font-semibold">
        {counted(marked.size, "site is", "sites are")} marked
        {note && <span className="font-normal text-second">. {note}</span>}
      </p>
      <div className="flex flex-wrap gap-2">
        {Object.entries(bulkDeeds).map(
          ([deed, { button }]) =>
            button && (
              <Button key={deed} disabled={plan.isPending} onClick={() => plan.mutate(deed)}>
                {button} …
              </Button>
            ),
        )}
      </div>
      <button
        type="button"
        className="min-h-6 underline"
        onClick={() => {
          plan.reset();
          marks.clear();
        }}
      >
        Unmark all
      </button>
      {plan.isPending && <p className="text-second">Planning for each of them …</p>}
      {plan.error && (
        <p role="alert" className="text-madder">
          {plan.error.message}
        </p>
      )}
    </section>
  );
}
