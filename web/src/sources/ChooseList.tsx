import type { ReactNode } from "react";
import { fileLook } from "../ui/Field";

/** Chooses the file of a list, with a description of its columns. */
export function ChooseList({ onChoose, children }: { onChoose: (list: File | null) => void; children: ReactNode }) {
  return (
    <>
      <label className="mt-4 block font-semibold">
        File
        <input
          type="file"
          accept=".csv,.xlsx,text/csv"
          className={fileLook}
          onChange={(event) => onChoose(event.target.files?.[0] ?? null)}
        />
      </label>
      <details className="mt-2 text-[14px]">
        <summary className="cursor-pointer">Columns that can be imported</summary>
        <p className="mt-1 text-second">{children}</p>
      </details>
    </>
  );
}
