import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import clsx from "clsx";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { Outside } from "../access/FindPerson";
import { Button } from "../ui/Button";
import { onDate, onDay } from "../ui/words";

type Invitation = Schema["Invitation"];

const states: Record<Invitation["state"], { words: string; tone: string }> = {
  waiting: { words: "Waiting, nothing sent", tone: "bg-ochre-pale text-ochre" },
  sending: { words: "Being sent", tone: "bg-bookmark text-ink" },
  sent: { words: "Sent, not accepted yet", tone: "bg-bookmark text-ink" },
  accepted: { words: "Accepted", tone: "bg-moss-pale text-moss" },
  "not-sent": { words: "Not sent", tone: "bg-madder-pale text-madder" },
  expired: { words: "Expired", tone: "bg-bar text-second" },
  withdrawn: { words: "Withdrawn", tone: "bg-bar text-second" },
  over: { words: "Over", tone: "bg-bar text-second" },
};

/** Invitations with what was asked for, what has become of it and what it waits for. */
export function InvitationList(props: { invitations: Invitation[]; withSite?: boolean; mayAct: boolean }) {
  return (
    <ul className="mt-1 divide-y divide-rule border-y border-rule">
      {props.invitations.map((one) => (
        <li key={one.id} className="py-2">
          <div className="flex flex-wrap items-baseline justify-between gap-x-3">
            <span>
              {one.guest ? (
                <Link to="/people/$person" params={{ person: `${one.guest.id}` }} className="underline">
                  <bdi>{one.guest.name}</bdi>
                </Link>
              ) : (
                <bdi className="font-semibold">{one.mail}</bdi>
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
                className="underline"
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

/** The button says before it is pressed whether access is removed. */
function Withdraw({ invitation }: { invitation: Invitation }) {
  const params = { path: { invitation: invitation.id } };
  const plan = useQuery({
    queryKey: ["withdraw plan", invitation.id, invitation.state],
    queryFn: () => ok(api.POST("/api/invitations/{invitation}/withdraw/plan", { params })),
    retry: false,
  });
  const withdraw = useAction((fingerprint: string) =>
    api.POST("/api/invitations/{invitation}/withdraw", { params, body: { fingerprint } }),
  );
  const planned = plan.data?.plan;
  const lost = planned?.changes.length ?? 0;
  return (
    <div className="mt-1">
      {planned && (
        <Button onClick={() => withdraw.mutate(planned.fingerprint)} disabled={withdraw.isPending}>
          {withdraw.isPending ? "Withdrawing …" : lost > 0 ? "Withdraw, and remove the access" : "Withdraw"}{" "}
          <span className="sr-only">the invitation of {invitation.mail}</span>
        </Button>
      )}
      <ActionFault error={withdraw.error} />
    </div>
  );
}
