import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";

/** The minimum length, as on the server. */
export const LEAST_LETTERS = 12;
export const PASSWORD_HINT = "At least 12 characters, and no common password. A few words in a row are a good choice.";

/** Changes one's own password with the current one. All other sessions end. */
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
        label="Current password"
        type="password"
        autoComplete="current-password"
        required
        value={old}
        onChange={(event) => setOld(event.target.value)}
      />
      <Field
        label="New password"
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
        <Button type="submit" look="primary" disabled={change.isPending}>
          Change the password
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </form>
  );
}
