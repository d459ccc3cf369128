import { Notice } from "../ui/Notice";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok } from "../api/client";
import { meQuery } from "../api/useMe";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Front } from "./Front";

export function SignInPage() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { to } = useSearch({ from: "/sign-in" });
  const [mail, setMail] = useState("");
  const [password, setPassword] = useState("");
  // The session ended without a request of the person.
  const [wasIn] = useState(() => queries.getQueryData(meQuery.queryKey) !== undefined);
  const signIn = useMutation({
    mutationFn: () => ok(api.POST("/api/session", { body: { mail, password } })),
    onSuccess: async () => {
      queries.clear();
      if (to?.startsWith("/") && !to.startsWith("//")) return navigate({ href: to });
      // Without a target page, owners start at their own sites and everybody else at the register.
      const me = await meQuery.queryFn();
      return navigate({ to: me.role === "owner" ? "/your-sites" : "/" });
    },
  });
  const sendLink = useMutation({ mutationFn: () => ok(api.POST("/api/session/link", { body: { mail } })) });
  return (
    <Front title="Sign in">
      {wasIn ? (
        <Notice role="status">
          Your session has ended. A session ends after 2 hours without use, after 12 hours, when the account changes, or
          when somebody ends it. Sign in to continue on the same page.
        </Notice>
      ) : (
        <p className="text-second">The register of all your organisation's sites, on all hosts.</p>
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
        <Button look="primary" type="submit" disabled={signIn.isPending} className="w-full py-2">
          {signIn.isPending ? "Signing in …" : "Sign in"}
        </Button>
      </form>
      <div className="mt-5 border-t border-rule pt-3 text-[13px]">
        {sendLink.isSuccess ? (
          <p role="status">
            If {mail} has an account, a mail with a link is on its way. The link works once, within a day.
          </p>
        ) : (
          <>
            <p className="text-second">No password yet, or forgotten? Enter your mail address above.</p>
            <Button
              className="mt-2"
              disabled={!mail.includes("@") || sendLink.isPending}
              onClick={() => sendLink.mutate()}
            >
              Send a link to choose a password
            </Button>
            {sendLink.error && <p className="mt-1 text-madder">{sendLink.error.message}</p>}
          </>
        )}
      </div>
    </Front>
  );
}
