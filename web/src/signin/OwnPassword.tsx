import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok } from "../api/client";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";

/** The least length that the server takes, too. */
export const LEAST_LETTERS = 12;
export const PASSWORD_HINT =
  "At least twelve characters, and none that many others use. A few words in a row are good.";

/** One's own password, changed with the one so far. All other sessions end by it. */
export function OwnPassword() {
  const queries = useQueryClient();
  const [isOpen, setOpen] = useState(false);
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const change = useMutation({
    mutationFn: () => ok(api.POST("/api/session/password", { body: { old, password } })),
    onSuccess: async () => {
      setOpen(false);
      setOld("");
      setPassword("");
      await queries.invalidateQueries({ queryKey: ["sessions"] });
    },
  });
  if (!isOpen) {
    return (
      <section className="mt-3 border-t border-rule pt-3 text-[13px]">
        {change.isSuccess && <p role="status">Your password is changed, and all your other sessions have ended.</p>}
        <button type="button" className="underline" onClick={() => setOpen(true)}>
          Change your password …
        </button>
      </section>
    );
  }
  return (
    <form
      aria-label="Change your password"
      className="mt-3 border-t border-rule pt-1 text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      <Field
        label="The password so far"
        type="password"
        autoComplete="current-password"
        required
        value={old}
        onChange={(event) => setOld(event.target.value)}
      />
      <Field
        label="The new one"
        type="password"
        autoComplete="new-password"
        required
        minLength={LEAST_LETTERS}
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        hint={PASSWORD_HINT}
      />
      {change.error && (
        <p role="alert" className="mt-2 text-madder">
          {change.error.message}
        </p>
      )}
      <div className="mt-3 flex gap-1.5">
        <Button type="submit" look="deed" disabled={change.isPending}>
          Change it
        </Button>
        <Button onClick={() => setOpen(false)}>Leave it</Button>
      </div>
    </form>
  );
}
