import { labels } from "../api/labels";
import { capital } from "../ui/words";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { api, ApiError, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Front } from "./Front";
import { LEAST_LETTERS, PASSWORD_HINT } from "./OwnPassword";

/** The page that a link in a mail opens. It has a button; opening the page does nothing by itself. */
export function LinkPage() {
  const { token } = useParams({ from: "/l/$token" });
  const path = { token };
  const link = useQuery({
    queryKey: ["link", token],
    queryFn: () => ok(api.GET("/api/links/{token}", { params: { path } })),
    retry: false,
  });
  if (link.error) return <Bad error={link.error} token={token} />;
  if (!link.data) return <Front title="A link from a mail">…</Front>;
  return link.data.purpose === "password" ? (
    <ChoosePassword token={token} />
  ) : (
    <GoOn token={token} purpose={link.data.purpose} />
  );
}

/** Explains why a link is not valid. The attempt is in the journal if the person is signed in. */
function Bad({ error, token }: { error: Error; token: string }) {
  const path = { token };
  useQuery({
    queryKey: ["bad link", token],
    queryFn: async () => {
      const me = await api.GET("/api/session");
      if (me.response.ok) await api.POST("/api/links/{token}/open", { params: { path } });
      return true;
    },
    retry: false,
    staleTime: Infinity,
  });
  return (
    <Front title="This link is not valid">
      <p role="alert">{error.message}</p>
      <Link to="/your-sites" className="mt-4 inline-block underline">
        To your sites
      </Link>
    </Front>
  );
}

function GoOn({ token, purpose }: { token: string; purpose: Schema["LinkPurpose"] }) {
  const navigate = useNavigate();
  const path = { token };
  const open = useMutation({
    mutationFn: () => ok(api.POST("/api/links/{token}/open", { params: { path } })),
    onSuccess: (link) => {
      if (link.purpose === "offer")
        return navigate({ to: "/offers/$offer", params: { offer: link.subject }, search: { link: token } });
      if (link.purpose === "manual-task")
        return navigate({ to: "/manual-tasks/$task", params: { task: link.subject } });
      if (link.purpose === "stop")
        return navigate({ to: "/your-sites", search: { link: token, site: Number(link.subject) } });
      return navigate({ to: "/your-sites", search: link.subject ? { site: Number(link.subject) } : {} });
    },
    onError: (error) => {
      // Not signed in: sign in first, then return here.
      if (error instanceof ApiError && error.status === 401)
        void navigate({ to: "/sign-in", search: { to: `/l/${token}` } });
    },
  });
  const refused = open.error instanceof ApiError && open.error.status !== 401 ? open.error : null;
  return (
    <Front title={capital(labels.LinkPurpose[purpose])}>
      <p>This link is for one person and works once. Nothing happens until you confirm it on the next page.</p>
      {refused && (
        <p role="alert" className="mt-3 text-madder">
          {refused.message}
        </p>
      )}
      <Button look="primary" className="mt-5 w-full py-2" disabled={open.isPending} onClick={() => open.mutate()}>
        Continue
      </Button>
    </Front>
  );
}

function ChoosePassword({ token }: { token: string }) {
  const queries = useQueryClient();
  const path = { token };
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const differs = again !== "" && again !== password;
  const choose = useMutation({
    mutationFn: () => ok(api.POST("/api/links/{token}/password", { params: { path }, body: { password } })),
    onSuccess: () => queries.removeQueries({ queryKey: ["me"] }),
  });
  if (choose.isSuccess) {
    return (
      <Front title="Your password is set">
        <p>This link cannot be used again. Sign in with your mail address and the new password.</p>
        <Link
          to="/sign-in"
          search={{ to: "/your-sites" }}
          className="mt-5 inline-block rounded-[4px] border border-cover bg-cover px-3 py-2 font-semibold text-cover-ink dark:border-brass"
        >
          Sign in
        </Link>
      </Front>
    );
  }
  return (
    <Front title="Choose a password">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (password === again) choose.mutate();
        }}
      >
        <Field
          label="Password"
          type="password"
          autoComplete="new-password"
          required
          minLength={LEAST_LETTERS}
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          hint={PASSWORD_HINT}
        />
        <Field
          label="Repeat the password"
          type="password"
          autoComplete="new-password"
          required
          value={again}
          onChange={(event) => setAgain(event.target.value)}
          aria-invalid={differs}
        />
        <p role="alert" className="min-h-8 py-1 text-madder">
          {differs ? "The passwords differ." : choose.error?.message}
        </p>
        <Button look="primary" type="submit" className="w-full py-2" disabled={choose.isPending || differs}>
          Set the password
        </Button>
      </form>
    </Front>
  );
}
