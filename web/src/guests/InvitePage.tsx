import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useRouter, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { PowerChoice } from "../access/PowerChoice";
import { ActionFault, Refused } from "../actions/ActionFault";
import { EffectList } from "../actions/EffectList";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { useSitePage } from "../api/useSitePage";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { useSettled } from "../ui/useSettled";
import { InvitationList } from "./InvitationList";

/** Half a year is long enough for most work, and short enough to be asked about. */
const usualDays = 180;
const inDays = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

/** Invites somebody from outside to a site: who they are, what stops them and what follows, before anything is sent; and the invitations so far. */
export function InvitePage() {
  const { site } = useParams({ from: "/books/sites/$site/invite" });
  const asked = useSearch({ from: "/books/sites/$site/invite" });
  const router = useRouter();
  const me = useMe();
  const sitePage = useSitePage(Number(site));
  const [mail, setMail] = useState("");
  const [power, setPower] = useState<Schema["Power"]>(asked.power ?? "view");
  const [through, setThrough] = useState(inDays(usualDays));
  const [sponsor, setSponsor] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const params = { path: { site: Number(site) } };
  const request = { mail: mail.trim(), power, through, sponsor: sponsor?.trim() ? sponsor.trim() : null, reason };
  const settled = useSettled(request.mail);
  const settledSponsor = useSettled(request.sponsor ?? "");
  const isReady = settled.includes("@") && settled === request.mail && through !== "";
  const plan = useQuery({
    queryKey: ["invitation plan", site, settled, power, through, settledSponsor],
    queryFn: () => ok(api.POST("/api/sites/{site}/invitations/plan", { params, body: request })),
    enabled: isReady && sitePage.data?.mayAct === true,
    placeholderData: (before) => before,
    retry: false,
  });
  const invitations = useQuery({
    queryKey: ["invitations", site],
    queryFn: () => ok(api.GET("/api/sites/{site}/invitations", { params })),
    // What stops an invitation, and that a guest has signed in, is no entry of the journal that would be told.
    refetchInterval: ({ state }) => (state.data?.some(({ isOpen }) => isOpen) ? 3000 : false),
    retry: false,
  });
  const invite = useAction(
    (fingerprint: string) => api.POST("/api/sites/{site}/invitations", { params, body: { ...request, fingerprint } }),
    (done) => {
      if (done.approval) return router.navigate({ to: "/approvals/$approval", params: { approval: done.approval } });
      setMail("");
      setReason("");
    },
  );
  if (!sitePage.data) return <Waiting title="Invite a guest" error={sitePage.error} />;
  const planned = isReady ? plan.data?.plan : undefined;
  const refused = isReady ? (plan.data?.refused ?? []) : [];
  const { line, mayAct } = sitePage.data;
  return (
    <SidePanel
      title={`Guests of ${line.title}`}
      lead={
        <Link to="/sites/$site" params={{ site }} className="font-address text-[13px] break-all underline">
          {line.address ?? line.title}
        </Link>
      }
    >
      {mayAct && (
        <form
          className="mt-4"
          onSubmit={(event) => {
            event.preventDefault();
            if (planned) invite.mutate(planned.fingerprint);
          }}
        >
          <h2 className="text-[18px]">Invite somebody from outside</h2>
          <Field
            label="Mail address of the guest"
            type="email"
            autoComplete="off"
            maxLength={254}
            value={mail}
            onChange={(event) => setMail(event.target.value)}
          />
          <PowerChoice value={power} onChoose={setPower} without={["own", "manage"]} />
          <div className="grid gap-x-4 sm:grid-cols-2">
            <Field
              label="Last day"
              type="date"
              value={through}
              min={inDays(0)}
              max={inDays(366)}
              onChange={(event) => setThrough(event.target.value)}
              hint="The host ends the access then. A year at the most."
            />
            <Field
              label="Sponsor"
              type="email"
              value={sponsor ?? me?.mail ?? ""}
              onChange={(event) => setSponsor(event.target.value)}
              hint="The member of staff who answers for them."
            />
          </div>
          <Reason value={reason} onChange={setReason} />
          <section aria-label="Effect" aria-live="polite" className="mt-4">
            {planned && (
              <>
                <h2 className="font-text text-[14.5px] font-bold">What follows</h2>
                <EffectList plan={planned} />
                {planned.needsSecond && <p className="mt-2 text-ochre">{planned.needsSecond}</p>}
              </>
            )}
            <Refused title="Not possible" reasons={refused} />
            {plan.error && isReady && <p className="text-madder">{plan.error.message}</p>}
          </section>
          <ActionFault error={invite.error} />
          <div className="mt-4 flex flex-wrap gap-2">
            <Button
              look="primary"
              type="submit"
              className="py-2"
              disabled={!planned || plan.isFetching || invite.isPending}
            >
              {invite.isPending ? "Keeping it …" : planned?.needsSecond ? "Ask a second person" : "Invite"}
            </Button>
            <Button className="py-2" onClick={() => router.history.back()}>
              Back
            </Button>
          </div>
        </form>
      )}
      <section aria-label="Invitations" className="mt-6">
        <h2 className="text-[18px]">Invitations</h2>
        {invitations.data?.length === 0 && <p className="text-second">Nobody has been invited from here.</p>}
        {invitations.error && <p className="text-madder">{invitations.error.message}</p>}
        {invitations.data && invitations.data.length > 0 && (
          <InvitationList invitations={invitations.data} mayAct={mayAct} />
        )}
      </section>
    </SidePanel>
  );
}
