import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ok } from "../api/client";
import { ago } from "../ui/words";

/** One's other sessions, each with a button to end it. */
export function Sessions() {
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ["sessions"], queryFn: () => ok(api.GET("/api/sessions")) });
  const end = useMutation({
    mutationFn: (session: string) => ok(api.DELETE("/api/sessions/{session}", { params: { path: { session } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["sessions"] }),
  });
  const others = (sessions.data ?? []).filter((session) => !session.isThis);
  if (others.length === 0) return null;
  return (
    <section className="mt-3 border-t border-rule pt-3">
      <h3 className="text-[13px]">Other sessions</h3>
      <ul className="max-h-40 overflow-auto">
        {others.map((session) => (
          <li key={session.id} className="flex items-baseline justify-between gap-2 py-1 text-[13px]">
            <span>
              {ago(session.created)}, used {ago(session.used)}
            </span>
            <button type="button" className="underline" disabled={end.isPending} onClick={() => end.mutate(session.id)}>
              End the session
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
