import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { counted } from "../ui/words";

/** A sync lacked so many sites that none is marked as no longer reported until a person confirms it. */
export function HeldBack({ source }: { source: Schema["Source"] }) {
  const queries = useQueryClient();
  const [isSure, setSure] = useState(false);
  const confirm = useMutation({
    mutationFn: () => ok(api.POST("/api/sources/{name}/gone", { params: { path: { name: source.name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["sources"] }),
  });
  if (confirm.isSuccess)
    return <p role="status">Confirmed. The next sync marks the missing sites as no longer reported.</p>;
  return (
    <div className="mt-2">
      {isSure ? (
        <div className="flex flex-wrap items-center gap-1.5">
          <p>
            {counted(source.heldBack, "site is marked as no longer reported", "sites are marked as no longer reported")}{" "}
            once {source.name} has been synced again without them. Their facts stay.
          </p>
          <Button look="primary" disabled={confirm.isPending} onClick={() => confirm.mutate()}>
            Confirm that they are gone
          </Button>
          <Button onClick={() => setSure(false)}>Cancel</Button>
        </div>
      ) : (
        <Button onClick={() => setSure(true)}>Confirm that they are gone …</Button>
      )}
      {confirm.error && (
        <p role="alert" className="mt-1 text-madder">
          {confirm.error.message}
        </p>
      )}
    </div>
  );
}
