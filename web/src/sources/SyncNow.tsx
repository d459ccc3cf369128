import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import { useSyncNow } from "./useSources";

/** Requests a sync of a source; it runs on the server. */
export function SyncNow({ source }: { source: Schema["Source"] }) {
  const read = useSyncNow(source.name);
  return (
    <Button onClick={() => read.mutate()} disabled={read.isPending || source.isSyncing}>
      {source.isSyncing ? "Syncing …" : "Sync now"}
    </Button>
  );
}
