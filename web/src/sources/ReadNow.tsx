import type { Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { useReadNow } from "./useSources";

/** Asks for a read of a source; it goes on by itself. */
export function ReadNow({ source }: { source: Wire["SourceWire"] }) {
  const read = useReadNow(source.name);
  return (
    <Button onClick={() => read.mutate()} disabled={read.isPending || source.isReading}>
      {source.isReading ? "Reading …" : "Read now"}
    </Button>
  );
}
