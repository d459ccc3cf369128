import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ActionFault } from "../actions/ActionFault";
import { Button } from "../ui/Button";
import { atMinute, listed } from "../ui/words";
import type { ListKind, SiteImport } from "./importCalls";

/** The latest imports; the last one can be undone. */
export function SiteImports({ kind }: { kind: ListKind }) {
  const siteImports = useQuery({
    queryKey: ["list-takings", kind.key],
    queryFn: kind.siteImports,
    refetchInterval: (query) => (query.state.data?.some((siteImport) => siteImport.isUnderWay) ? 2000 : false),
  });
  if (!siteImports.data || siteImports.data.length === 0) return null;
  return (
    <section className="mt-7 border-t border-rule-strong pt-3" aria-label="Imports">
      <h2 className="text-[17px]">Imports</h2>
      <ul className="mt-1 divide-y divide-rule">
        {siteImports.data.map((siteImport) => (
          <li key={siteImport.id} className="py-2">
            {atMinute(siteImport.importedAt)} by <bdi>{siteImport.by.name}</bdi>: {siteImport.result}
            {siteImport.undoneAt && <span className="text-second"> Undone {atMinute(siteImport.undoneAt)}.</span>}
            {siteImport.mayUndo && <Undo kind={kind} siteImport={siteImport} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Undo({ kind, siteImport }: { kind: ListKind; siteImport: SiteImport }) {
  const queries = useQueryClient();
  const plan = useMutation({ mutationFn: () => kind.planUndo(siteImport.id) });
  const undo = useMutation({
    mutationFn: (fingerprint: string) => kind.undo(siteImport.id, fingerprint),
    onSuccess: () => queries.invalidateQueries(),
    onError: () => plan.mutate(),
  });
  return (
    <>
      {!plan.data && (
        <Button className="ml-3" disabled={plan.isPending} onClick={() => plan.mutate()}>
          Undo …
        </Button>
      )}
      <ActionFault error={plan.error ?? undo.error} />
      {plan.data && (
        <div className="mt-2 border-l-[3px] border-slate pl-3">
          <p>{kind.undone(plan.data)}</p>
          {plan.data.left.length > 0 && (
            <p className="text-ochre">
              Changed later, and not undone: <bdi>{listed(plan.data.left.slice(0, 20))}</bdi>
              {plan.data.left.length > 20 && ` and ${(plan.data.left.length - 20).toLocaleString("en-GB")} more`}.
            </p>
          )}
          <div className="mt-2 flex gap-2">
            <Button look="primary" disabled={undo.isPending} onClick={() => undo.mutate(plan.data.fingerprint)}>
              Undo the import
            </Button>
            <Button onClick={() => plan.reset()}>Cancel</Button>
          </div>
        </div>
      )}
    </>
  );
}
