import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { useState } from "react";
import { ActionFault, Refused } from "../actions/ActionFault";
import { EffectList } from "../actions/EffectList";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Outside } from "../access/FindPerson";
import { Button } from "../ui/Button";
import { onDate, onDay } from "../ui/words";

type Invitation = Schema["Invitation"];

const states: Record<Invitation["state"], { words: string; tone: string }> = {
  waiting: { words: "Waiting, nothing sent", tone: "bg-ochre-pale text-ochre" },
  sending: { words: "Being sent", tone: "bg-bookmark text-ink" },
  sent: { words: "Sent", tone: "bg-bookmark text-ink" },
  accepted: { words: "Accepted", tone: "bg-moss-pale text-moss" },
  "not-sent": { words: "Not sent", tone: "bg-madder-pale text-madder" },
  expired: { words: "Expired", tone: "bg-bar text-second" },
  withdrawn: { words: "Withdrawn", tone: "bg-bar text-second" },
  over: { words: "Over", tone: "bg-bar text-second" },
};

/** Invitations with what was asked for, what has become of it and what it waits for. */
export function InvitationList(props: { invitations: Invitation[]; withSite?: boolean; mayAct: boolean }) {
  // Owners learn about other people through common sites, and have no pages of people.
  const seesPeople = useMe()?.role !== "owner";
  return (
    <ul className="mt-1 divide-y divide-rule border-y border-rule">
      {props.invitations.map((one) => (
        <li key={one.id} className="py-2">
          <div className="flex flex-wrap items-baseline justify-between gap-x-3">
            <span>
              {one.guest && seesPeople ? (
                <Link to="/people/$person" params={{ person: `${one.guest.id}` }} className="underline">
                  <bdi>{one.guest.name}</bdi>
                </Link>
              ) : (
                <bdi className="font-semibold">{one.guest?.name ?? one.mail}</bdi>
              )}
              <Outside />{" "}
              {props.withSite && (
                <Link to="/sites/$site/invite" params={{ site: `${one.site.id}` }} className="underline">
                  <bdi>{one.site.title}</bdi>
                </Link>
              )}
            </span>
            <span className={clsx("rounded-[3px] px-1.5 text-[12.5px] font-semibold", states[one.state].tone)}>
              {states[one.state].words}
              {one.expiresAfter && ", not accepted yet"}
            </span>
          </div>
          <p className="text-[13px] text-second">
            {one.guest && one.guest.name !== one.mail && <span className="font-address">{one.mail}. </span>}
            Can {one.power} until {onDate(one.through)}. Sponsor <bdi>{one.sponsor.name}</bdi>
            {one.sponsorHasLeft && <span className="text-madder">, who has left</span>}. Invited by{" "}
            <bdi>{one.by.name}</bdi>, {onDay(one.askedAt)}
            {one.sentAt && `, sent ${onDay(one.sentAt)}`}.
            {one.expiresAfter && ` Expires after ${onDate(one.expiresAfter)} if nobody signs in.`}
          </p>
          {[...one.stoppedBy, ...(one.words ? [one.words] : [])].map((sentence) => (
            <p key={sentence} className="text-[13px] text-ochre">
              <bdi>{sentence}</bdi>
            </p>
          ))}
          {one.state === "waiting" && (
            <p className="text-[13px]">
              <Link
                to="/sites/$site/why"
                params={{ site: `${one.site.id}` }}
                search={{
                  power: one.power,
                  ...(one.guest ? { person: one.guest.id } : { kind: "new-guest" as const }),
                }}
                className="inline-block min-h-6 underline"
              >
                What would let them in …
              </Link>
            </p>
          )}
          {props.mayAct && one.isOpen && <Withdraw invitation={one} />}
        </li>
      ))}
    </ul>
  );
}

/** Shows what follows before it is done. */
function Withdraw({ invitation }: { invitation: Invitation }) {
  const [isAsked, setAsked] = useState(false);
  const params = { path: { invitation: invitation.id } };
  const plan = useQuery({
    queryKey: ["withdraw plan", invitation.id, invitation.state],
    queryFn: () => ok(api.POST("/api/invitations/{invitation}/withdraw/plan", { params })),
    enabled: isAsked,
    retry: false,
  });
  const withdraw = useAction((fingerprint: string) =>
    api.POST("/api/invitations/{invitation}/withdraw", { params, body: { fingerprint } }),
  );
  const planned = plan.data?.plan;
  const of = <span className="sr-only">the invitation of {invitation.mail}</span>;
  if (!isAsked) {
    return (
      <button type="button" className="min-h-6 text-[13px] underline" onClick={() => setAsked(true)}>
        Withdraw … {of}
      </button>
    );
  }
  return (
    <div className="mt-1">
      {planned &&
        (planned.changes.length > 0 ? (
          <EffectList plan={planned} />
        ) : (
          <p className="text-[13px]">Nothing has been sent, and nothing will be.</p>
        ))}
      <Refused title="Not possible now" reasons={plan.data?.refused ?? []} />
      <ActionFault error={withdraw.error ?? plan.error} />
      <div className="mt-1.5 flex gap-2">
        {planned && (
          <Button onClick={() => withdraw.mutate(planned.fingerprint)} disabled={withdraw.isPending || plan.isFetching}>
            {withdraw.isPending ? "Withdrawing …" : "Withdraw"} {of}
          </Button>
        )}
        <Button onClick={() => setAsked(false)}>Keep it {of}</Button>
      </div>
    </div>
  );
}
