import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { counted } from "../ledger/words";

/** So many sites are no longer listed that none vanishes by itself: a person says that they are gone. */
export function HeldBack({ source }: { source: Wire["SourceWire"] }) {
  const queries = useQueryClient();
  const [isSure, setSure] = useState(false);
  const say = useMutation({
    mutationFn: () => ok(api.POST("/api/sources/{name}/gone", { params: { path: { name: source.name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["sources"] }),
  });
  if (say.isSuccess) return <p role="status">Said. It is read again, and what it does not list then vanishes.</p>;
  return (
    <div className="mt-2">
      {isSure ? (
        <div className="flex flex-wrap items-center gap-1.5">
          <p>
            {counted(source.heldBack, "site vanishes", "sites vanish")} from the register once {source.name} has been
            read again without them. What is known of them stays.
          </p>
          <Button look="deed" disabled={say.isPending} onClick={() => say.mutate()}>
            They are gone
          </Button>
          <Button onClick={() => setSure(false)}>Leave it</Button>
        </div>
      ) : (
        <Button onClick={() => setSure(true)}>Say that they are gone …</Button>
      )}
      {say.error && (
        <p role="alert" className="mt-1 text-madder">
          {say.error.message}
        </p>
      )}
    </div>
  );
}
