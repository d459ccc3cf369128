import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { Button } from "../ledger/Button";
import { atMinute, capital, counted, listed } from "../ledger/words";

type Taking = Wire["ListTakingWire"];

/** The lists that were taken in last; the latest can be taken back. */
export function Takings({ name }: { name: string }) {
  const takings = useQuery({
    queryKey: ["list-takings", name],
    queryFn: () => ok(api.GET("/api/sources/{name}/list/takings", { params: { path: { name } } })),
    refetchInterval: (query) => (query.state.data?.some((taking) => taking.isUnderWay) ? 2000 : false),
  });
  if (!takings.data || takings.data.length === 0) return null;
  return (
    <section className="mt-7 border-t border-rule-strong pt-3" aria-label="Taken in before">
      <h2 className="text-[17px]">Taken in before</h2>
      <ul className="mt-1 divide-y divide-rule">
        {takings.data.map((taking) => (
          <li key={taking.id} className="py-2">
            {atMinute(taking.takenAt)} by <bdi>{taking.by.name}</bdi>: {result(taking)}
            {taking.undoneAt && <span className="text-second"> Taken back {atMinute(taking.undoneAt)}.</span>}
            {taking.mayUndo && <TakeBack name={name} taking={taking} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

function result(taking: Taking) {
  if (taking.isUnderWay) return "it is being taken in, and goes on by itself; you may leave this page.";
  if (!taking.isEnded) return "it was not taken in to its end. What was taken in stays; take it in again.";
  return taking.sites > 0 ? `${counted(taking.sites, "site")} changed or new.` : "nothing changed.";
}

function TakeBack({ name, taking }: { name: string; taking: Taking }) {
  const queries = useQueryClient();
  const path = { params: { path: { name, taking: taking.id } } };
  const plan = useMutation({
    mutationFn: () => ok(api.POST("/api/sources/{name}/list/takings/{taking}/undo/plan", path)),
  });
  const undo = useMutation({
    mutationFn: (fingerprint: string) =>
      ok(api.POST("/api/sources/{name}/list/takings/{taking}/undo", { ...path, body: { fingerprint } })),
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
          <p>
            {plan.data.restored > 0 &&
              `${capital(counted(plan.data.restored, "site becomes", "sites become"))} what ${plan.data.restored === 1 ? "it was" : "they were"} before the list. `}
            {plan.data.gone > 0 &&
              `${capital(counted(plan.data.gone, "site that it brought is", "sites that it brought are"))} marked as vanished. `}
            Orders that it showed done stay as they are.
          </p>
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
