import { labels } from "../api/labels";
import type { Schema } from "../api/client";
import { capital } from "../ui/words";

/** What becomes different of how a site presents itself, before and after. */
export function FieldChanges({ fields }: { fields: Schema["FieldChange"][] }) {
  return fields.map(({ field, before, isBeforeKnown, after }) => (
    <li key={field}>
      {capital(labels.LookField[field])}:{" "}
      <del className="text-second decoration-madder">
        <bdi>{before ?? (isBeforeKnown ? "none" : "not reported")}</bdi>
      </del>{" "}
      becomes{" "}
      <ins className="font-semibold no-underline">
        <bdi>{after ?? "none"}</bdi>
      </ins>
    </li>
  ));
}
