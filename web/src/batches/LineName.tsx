import { useEffect, useRef, useState } from "react";
import type { Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { useAdjust } from "./useAdjust";

/** Another new name for one site of a plan. */
export function LineName(props: { batch: Schema["Batch"]; line: Schema["BatchLine"]; onDone: () => void }) {
  const { batch, line, onDone } = props;
  const [name, setName] = useState(line.name ?? line.title);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.select(), []);
  const adjust = useAdjust(batch, onDone);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        adjust.mutate({ sites: [line.site], action: "site.look", name });
      }}
    >
      <Field
        label={`New name of ${line.title}`}
        value={name}
        ref={field}
        autoComplete="off"
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onDone();
        }}
      />
      {adjust.error && (
        <p role="alert" className="mt-2 text-madder">
          {adjust.error.message}
        </p>
      )}
      <p className="mt-2 flex gap-2">
        <Button look="primary" type="submit" disabled={name.trim() === "" || adjust.isPending}>
          Plan it so
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
    </form>
  );
}
