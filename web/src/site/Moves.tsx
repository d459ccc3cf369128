import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { Button } from "../ui/Button";

type Move = Schema["SiteMove"];

/** For a site that is no longer reported: where it has moved, which row it was before, and the candidates, for a person to decide. */
export function Moves({ site }: { site: number }) {
  const queries = useQueryClient();
  const path = { site };
  const moves = useQuery({
    queryKey: ["moves", site],
    queryFn: () => ok(api.GET("/api/sites/{site}/moves", { params: { path } })),
  });
  const settled = { onSettled: () => queries.invalidateQueries() };
  const decide = useMutation({
    mutationFn: (to: number) => ok(api.POST("/api/sites/{site}/moved", { params: { path }, body: { to } })),
    ...settled,
  });
  const undo = useMutation({
    mutationFn: () => ok(api.POST("/api/sites/{site}/moved/undo", { params: { path } })),
    ...settled,
  });
  if (!moves.data) return null;
  const { to, was, candidates, mayDecide } = moves.data;
  if (!to && was.length === 0 && candidates.length === 0) return null;
  return (
    <section aria-label="Moved" className="mt-4 border-l-[6px] border-brass bg-bookmark px-4 py-3">
      {to && (
        <p className="flex items-center justify-between gap-3">
          <span>
            This site has moved. It is now <ToLine line={to} />.
          </span>
          {mayDecide && (
            <Button disabled={undo.isPending} onClick={() => undo.mutate()}>
              Undo: they are two sites
            </Button>
          )}
        </p>
      )}
      {was.map((line) => (
        <p key={line.id}>
          Before it moved it was <ToLine line={line} />.
        </p>
      ))}
      {candidates.length > 0 && (
        <>
          <h2 className="text-[17px]">It may have moved</h2>
          <ul>
            {candidates.map((line) => (
              <li key={line.id} className="flex items-center justify-between gap-3 py-1">
                <span className="min-w-0">
                  <ToLine line={line} /> <span className="text-second">{line.because.join("; ")}</span>
                </span>
                {mayDecide && (
                  <Button disabled={decide.isPending} onClick={() => decide.mutate(line.id)}>
                    Confirm the move
                  </Button>
                )}
              </li>
            ))}
          </ul>
          <p className="text-[13px] text-second">
            Facts, holds and exceptions set for it move with it. Without a decision they stay two sites.
          </p>
        </>
      )}
      <ActionFault error={decide.error ?? undo.error} />
    </section>
  );
}

function ToLine({ line }: { line: Move }) {
  return (
    <>
      <Link to="/sites/$site" params={{ site: line.id.toString() }} className="underline">
        <bdi>{line.title}</bdi>
      </Link>{" "}
      on {line.host}
    </>
  );
}
