import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok } from "../api/client";
import { meQuery } from "../api/useMe";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";
import { Front } from "./Front";

export function SignInPage() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { to } = useSearch({ from: "/sign-in" });
  const [mail, setMail] = useState("");
  const [password, setPassword] = useState("");
  // Whoever was in a moment ago did not ask to be out.
  const [wasIn] = useState(() => queries.getQueryData(meQuery.queryKey) !== undefined);
  const signIn = useMutation({
    mutationFn: () => ok(api.POST("/api/session", { body: { mail, password } })),
    onSuccess: async () => {
      queries.clear();
      if (to?.startsWith("/") && !to.startsWith("//")) return navigate({ href: to });
      // Without a wish, owners begin at their own sites and everybody else at the register.
      const me = await meQuery.queryFn();
      return navigate({ to: me.role === "owner" ? "/yours" : "/" });
    },
  });
  const sendLink = useMutation({ mutationFn: () => ok(api.POST("/api/session/link", { body: { mail } })) });
  return (
    <Front title="Sign in">
      {wasIn ? (
        <p role="status" className="border-l-[3px] border-ochre bg-ochre-pale px-3 py-1.5">
          Your session has ended: sessions end when they are not used for two hours, after twelve hours, when the
          account is changed, and when somebody ends them. Sign in to go on where you were.
        </p>
      ) : (
        <p className="text-second">The register of every site, whichever host it lives on.</p>
      )}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate();
        }}
      >
        <Field
          label="Mail address"
          type="email"
          autoComplete="username"
          required
          value={mail}
          onChange={(event) => setMail(event.target.value)}
        />
        <Field
          label="Password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        <p role="alert" className="min-h-10 py-2 text-madder">
          {signIn.error?.message}
        </p>
        <Button look="deed" type="submit" disabled={signIn.isPending} className="w-full py-2">
          {signIn.isPending ? "Signing in …" : "Sign in"}
        </Button>
      </form>
      <div className="mt-5 border-t border-rule pt-3 text-[13px]">
        {sendLink.isSuccess ? (
          <p role="status">
            If {mail} is on the staff list, a mail with a link is on its way. The link works once, for a day.
          </p>
        ) : (
          <>
            <p className="text-second">No password yet, or forgotten? Fill in your mail address above.</p>
            <Button
              className="mt-2"
              disabled={!mail.includes("@") || sendLink.isPending}
              onClick={() => sendLink.mutate()}
            >
              Mail me a link to choose one
            </Button>
            {sendLink.error && <p className="mt-1 text-madder">{sendLink.error.message}</p>}
          </>
        )}
      </div>
    </Front>
  );
}
