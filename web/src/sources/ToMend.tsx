import { useMutation } from "@tanstack/react-query";
import { Button } from "../ui/Button";

/** Exports the lines with errors, to be corrected and imported again. */
export function ToMend({ name, then, fetch }: { name: string; then: string; fetch: () => Promise<Blob> }) {
  const fetched = useMutation({
    mutationFn: fetch,
    onSuccess: (blob) => {
      const link = document.createElement("a");
      link.href = URL.createObjectURL(blob);
      link.download = `${name}, to correct.csv`;
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  return (
    <p className="mt-3">
      <Button disabled={fetched.isPending} onClick={() => fetched.mutate()}>
        Export the lines to correct
      </Button>{" "}
      <span className="text-[13px] text-second">
        A file of these lines only, with the error in an additional column. {then}
      </span>
      {fetched.error && <span className="text-madder">{fetched.error.message}</span>}
    </p>
  );
}
