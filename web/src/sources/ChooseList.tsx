import type { ReactNode } from "react";
import { fileLook } from "../ledger/Field";

/** The file that a list comes in, with what its columns can say. */
export function ChooseList({ onChoose, children }: { onChoose: (list: File | null) => void; children: ReactNode }) {
  return (
    <>
      <label className="mt-4 block font-semibold">
        The list
        <input
          type="file"
          accept=".csv,.xlsx,text/csv"
          className={fileLook}
          onChange={(event) => onChoose(event.target.files?.[0] ?? null)}
        />
      </label>
      <details className="mt-2 text-[14px]">
        <summary className="cursor-pointer">Which columns are read</summary>
        <p className="mt-1 text-second">{children}</p>
      </details>
    </>
  );
}
