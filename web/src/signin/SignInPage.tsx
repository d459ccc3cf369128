import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok } from "../api/client";
import { Button } from "../ledger/Button";

export function SignInPage() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { to } = useSearch({ from: "/sign-in" });
  const [mail, setMail] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useMutation({
    mutationFn: () => ok(api.POST("/api/session", { body: { mail, password } })),
    onSuccess: async () => {
      queries.clear();
      await navigate({ href: to?.startsWith("/") && !to.startsWith("//") ? to : "/" });
    },
  });
  return (
    <main className="flex min-h-full items-center justify-center bg-bar p-4">
      <form
        className="w-full max-w-[380px] border-l-[6px] border-cover bg-sheet p-8"
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate();
        }}
      >
        <h1 className="flex items-center gap-2 text-[22px]">
          <img src="/icon.svg" alt="" width="30" height="30" />
          Attic Ledger
        </h1>
        <p className="mt-1 mb-6 text-second">The register of every site, whichever host it lives on.</p>
        <Field label="Mail address" type="email" autoComplete="username" value={mail} onChange={setMail} />
        <Field
          label="Password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
        <p role="alert" className="min-h-10 py-2 text-madder">
          {signIn.error?.message}
        </p>
        <Button look="deed" type="submit" disabled={signIn.isPending} className="w-full py-2">
          {signIn.isPending ? "Signing in …" : "Sign in"}
        </Button>
      </form>
    </main>
  );
}

function Field(props: {
  label: string;
  type: string;
  autoComplete: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <label className="mt-3 block font-semibold">
      {props.label}
      <input
        required
        type={props.type}
        autoComplete={props.autoComplete}
        value={props.value}
        onChange={(event) => props.onChange(event.target.value)}
        className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-2 font-normal"
      />
    </label>
  );
}
