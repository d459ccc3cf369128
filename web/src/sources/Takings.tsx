import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { DeedFault } from "../deeds/DeedFault";
import { Button } from "../ledger/Button";
import { atMinute, listed } from "../ledger/words";
import type { ListKind, Taking } from "./listCalls";

/** The lists that were taken in last; the latest can be taken back. */
export function Takings({ kind }: { kind: ListKind }) {
  const takings = useQuery({
    queryKey: ["list-takings", kind.key],
    queryFn: kind.takings,
    refetchInterval: (query) => (query.state.data?.some((taking) => taking.isUnderWay) ? 2000 : false),
  });
  if (!takings.data || takings.data.length === 0) return null;
  return (
    <section className="mt-7 border-t border-rule-strong pt-3" aria-label="Taken in before">
      <h2 className="text-[17px]">Taken in before</h2>
      <ul className="mt-1 divide-y divide-rule">
        {takings.data.map((taking) => (
          <li key={taking.id} className="py-2">
            {atMinute(taking.takenAt)} by <bdi>{taking.by.name}</bdi>: {taking.result}
            {taking.undoneAt && <span className="text-second"> Taken back {atMinute(taking.undoneAt)}.</span>}
            {taking.mayUndo && <TakeBack kind={kind} taking={taking} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

function TakeBack({ kind, taking }: { kind: ListKind; taking: Taking }) {
  const queries = useQueryClient();
  const plan = useMutation({ mutationFn: () => kind.planUndo(taking.id) });
  const undo = useMutation({
    mutationFn: (fingerprint: string) => kind.undo(taking.id, fingerprint),
    onSuccess: () => queries.invalidateQueries(),
    onError: () => plan.mutate(),
  });
  return (
    <>
      {!plan.data && (
        <Button className="ml-3" disabled={plan.isPending} onClick={() => plan.mutate()}>
          Take it back …
        </Button>
      )}
      <DeedFault error={plan.error ?? undo.error} />
      {plan.data && (
        <div className="mt-2 border-l-[3px] border-slate pl-3">
          <p>{kind.undone(plan.data)}</p>
          {plan.data.left.length > 0 && (
            <p className="text-ochre">
              Changed since, and left as they are: <bdi>{listed(plan.data.left.slice(0, 20))}</bdi>
              {plan.data.left.length > 20 && ` and ${(plan.data.left.length - 20).toLocaleString("en-GB")} more`}.
            </p>
          )}
          <div className="mt-2 flex gap-2">
            <Button look="deed" disabled={undo.isPending} onClick={() => undo.mutate(plan.data.fingerprint)}>
              Take the list back
            </Button>
            <Button onClick={() => plan.reset()}>Leave it</Button>
          </div>
        </div>
      )}
    </>
  );
}
