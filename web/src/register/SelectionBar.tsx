import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { api, ok } from "../api/client";
import { useMe } from "../api/useMe";
import { bulkActions } from "../batches/words";
import { Button } from "../ui/Button";
import { counted } from "../ui/words";
import { selection, useSelection } from "../batches/selection";

/** The actions for all selected sites. Each button opens a plan; nothing is done here.
 * `rule`: the rule whose findings are shown, if it is one. */
export function SelectionBar({ note, rule }: { note: string | null; rule: string | undefined }) {
  const mayExcept = useMe()?.role !== "owner";
  const selected = useSelection();
  const navigate = useNavigate();
  const plan = useMutation({
    mutationFn: (action: string) => ok(api.POST("/api/batches", { body: { action, sites: [...selected] } })),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  if (selected.size === 0) return null;
  return (
    <section
      aria-label="Selected sites"
      className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1.5 border-t-2 border-brass bg-bookmark px-5 py-2"
    >
      <p role="status" className="font-semibold">
        {counted(selected.size, "site", "sites")} selected
        {note && <span className="font-normal text-second">. {note}</span>}
      </p>
      <div className="flex flex-wrap gap-2">
        {Object.entries(bulkActions).map(
          ([action, { button }]) =>
            button && (
              <Button key={action} disabled={plan.isPending} onClick={() => plan.mutate(action)}>
                {button} …
              </Button>
            ),
        )}
        <Button onClick={() => void navigate({ to: "/rename" })}>Rename …</Button>
        <Button onClick={() => void navigate({ to: "/add-owner" })}>Add an owner …</Button>
        {mayExcept && (
          <Button onClick={() => void navigate({ to: "/grant-exceptions", search: rule ? { rule } : {} })}>
            Grant exceptions …
          </Button>
        )}
      </div>
      <button
        type="button"
        className="min-h-6 underline"
        onClick={() => {
          plan.reset();
          selection.clear();
        }}
      >
        Clear the selection
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
