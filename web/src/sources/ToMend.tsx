import { useMutation } from "@tanstack/react-query";
import { Button } from "../ledger/Button";

/** The lines with which something is wrong, as a file: to be mended and taken in again. */
export function ToMend({ name, then, fetch }: { name: string; then: string; fetch: () => Promise<Blob> }) {
  const fetched = useMutation({
    mutationFn: fetch,
    onSuccess: (blob) => {
      const link = document.createElement("a");
      link.href = URL.createObjectURL(blob);
      link.download = `${name}, to mend.csv`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  return (
    <p className="mt-3">
      <Button disabled={fetched.isPending} onClick={() => fetched.mutate()}>
        Fetch the lines to mend
      </Button>{" "}
      <span className="text-[13px] text-second">
        A file of them alone, with what is wrong in a column of its own. {then}
      </span>
      {fetched.error && <span className="text-madder">{fetched.error.message}</span>}
    </p>
  );
}
