import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect, useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ui/Button";
import { useSettled } from "../ui/useSettled";
import { counted, onDate, onDay } from "../ui/words";
import { InvitationList } from "./InvitationList";

type Guest = Schema["Guest"];

const marks: Record<Schema["GuestMark"], { words: string; tone: string }> = {
  "no-sponsor": { words: "no sponsor on the staff", tone: "bg-madder-pale text-madder" },
  "named-like-staff": { words: "named like staff", tone: "bg-ochre-pale text-ochre" },
  "named-like-former-staff": { words: "named like former staff", tone: "bg-madder-pale text-madder" },
  "never-joined": { words: "never signed in", tone: "bg-ochre-pale text-ochre" },
  "not-seen": { words: "not seen for half a year", tone: "bg-ochre-pale text-ochre" },
  "not-reviewed": { words: "not reviewed within a year", tone: "bg-bar text-second" },
};

/** Every person from outside once, what they have and what should be looked at; reviewed one by one. */
export function GuestsPage() {
  const { mark, first: from = 0 } = useSearch({ from: "/books/guests" });
  const navigate = useNavigate();
  const me = useMe();
  const seesAll = me?.role === "administrator" || me?.role === "auditor";
  const where = seesAll ? "from outside" : "from outside with access by name to sites in your scope";
  const [text, setText] = useState("");
  const settled = useSettled(text.trim());
  const guests = useQuery({
    queryKey: ["guests", mark, from, settled],
    queryFn: () =>
      ok(
        api.GET("/api/guests", {
          params: { query: { from, ...(mark && { mark }), ...(settled && { text: settled }) } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  useEffect(() => {
    document.title = "Guests · Attic Ledger";
  }, []);
  const show = (search: { mark?: Schema["GuestMark"]; first?: number }) =>
    void navigate({ to: "/guests", search, replace: true });
  const { data } = guests;
  return (
    <>
      <div className="shrink-0 border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">Guests</h1>
          <p role="status" className="text-second">
            {data
              ? data.total === data.all
                ? `${counted(data.all, "person", "people")} ${where}.`
                : `${counted(data.total, "person", "people")} of ${data.all.toLocaleString("en-GB")} ${where}.`
              : (guests.error?.message ?? "…")}
          </p>
        </div>
        <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1.5 text-[13.5px]">
          <input
            type="search"
            aria-label="Find a guest by name or mail address"
            placeholder="Name or mail address"
            value={text}
            onChange={(event) => {
              setText(event.target.value);
              if (from > 0) show({ ...(mark && { mark }) });
            }}
            className="w-[220px] rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-1"
          />
          <div role="group" aria-label="What should be looked at" className="flex flex-wrap gap-x-4 gap-y-1">
            <Choice isOn={mark === undefined} onClick={() => show({})}>
              All
            </Choice>
            {data?.marks
              .filter((one) => one.count > 0 || one.mark === mark)
              .map((one) => (
                <Choice key={one.mark} isOn={mark === one.mark} onClick={() => show({ mark: one.mark })}>
                  {one.count.toLocaleString("en-GB")} {marks[one.mark].words}
                </Choice>
              ))}
          </div>
        </div>
      </div>
      <main className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {data && data.pending.length > 0 && (
          <section className="mb-5 max-w-[860px]">
            <h2 className="text-[16px]">Invited, and not in the register yet</h2>
            <InvitationList invitations={data.pending} withSite mayAct={me?.role !== "auditor"} />
          </section>
        )}
        {data && data.total === 0 && (
          <p className="text-second">
            {data.all === 0
              ? `Nobody ${where} is known. A guest is invited from the page of a site.`
              : "No guest matches."}
          </p>
        )}
        {data && data.guests.length > 0 && (
          <Table guests={data.guests} mayKeep={me?.role === "administrator"} mayAct={me?.role !== "auditor"} />
        )}
        {data && data.total > data.guests.length && (
          <p className="mt-3 flex gap-3">
            <Button
              disabled={from === 0}
              onClick={() => show({ ...(mark && { mark }), first: Math.max(0, from - 100) })}
            >
              Earlier
            </Button>
            <Button
              disabled={from + data.guests.length >= data.total}
              onClick={() => show({ ...(mark && { mark }), first: from + 100 })}
            >
              Later
            </Button>
            <span className="text-second">
              {from + 1} to {from + data.guests.length}
            </span>
          </p>
        )}
      </main>
    </>
  );
}

function Choice(props: { isOn: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={props.isOn}
      onClick={props.onClick}
      className={props.isOn ? "border-b-2 border-brass font-semibold" : "underline"}
    >
      {props.children}
    </button>
  );
}

function Table(props: { guests: Guest[]; mayKeep: boolean; mayAct: boolean }) {
  return (
    <table className="w-full text-[13.5px]">
      <caption className="sr-only">Guests</caption>
      <thead>
        <tr className="border-b border-rule-strong text-left text-[12px] text-second">
          {["Guest", "Sponsor", "Last seen", "Has access by name", "To look at", "Review"].map((name) => (
            <th key={name} scope="col" className="pr-3 pb-1 font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {props.guests.map((guest) => (
          <Row key={guest.person.id} guest={guest} mayKeep={props.mayKeep} mayAct={props.mayAct} />
        ))}
      </tbody>
    </table>
  );
}

function Row({ guest, mayKeep, mayAct }: { guest: Guest; mayKeep: boolean; mayAct: boolean }) {
  const keep = useAction(() =>
    api.POST("/api/guests/{person}/keep", { params: { path: { person: guest.person.id } }, body: { reason: null } }),
  );
  const seesPeople = useMe()?.role !== "owner";
  const isReviewed = !guest.marks.includes("not-reviewed");
  return (
    <tr className="border-b border-rule align-top">
      <th scope="row" className="py-2 pr-3 text-left font-normal">
        {seesPeople ? (
          <Link to="/people/$person" params={{ person: `${guest.person.id}` }} className="font-semibold underline">
            <bdi>{guest.person.name}</bdi>
          </Link>
        ) : (
          <bdi className="font-semibold">{guest.person.name}</bdi>
        )}
        <div className="font-address text-[12.5px] break-all text-second">{guest.person.mail}</div>
      </th>
      <td className="py-2 pr-3">
        {guest.sponsors.length === 0 && <span className="text-second">none</span>}
        {guest.sponsors.map(({ person, hasLeft }) => (
          <div key={person.id}>
            <bdi>{person.name}</bdi>
            {hasLeft && <span className="text-madder"> has left</span>}
          </div>
        ))}
      </td>
      <td className="py-2 pr-3 whitespace-nowrap">
        {guest.lastSeenAt ? onDay(guest.lastSeenAt) : guest.isReported ? "never" : "not reported"}
      </td>
      <td className="py-2 pr-3">
        {guest.sites === 0 ? "nothing" : counted(guest.sites, "site")}
        {guest.edits > 0 && `, edits ${guest.edits.toLocaleString("en-GB")}`}
        {guest.through && ` until ${onDate(guest.through)}`}
        {guest.groups > 0 && <div className="text-second">in {counted(guest.groups, "group")}</div>}
        {guest.invitations.map((one) => (
          <div key={one.id}>
            <Link to="/sites/$site/invite" params={{ site: `${one.site.id}` }} className="underline">
              invited to <bdi>{one.site.title}</bdi>
            </Link>
          </div>
        ))}
      </td>
      <td className="py-2 pr-3">
        <ul className="flex flex-wrap gap-1">
          {guest.marks
            .filter((mark) => mark !== "not-reviewed")
            .map((mark) => (
              <li key={mark} className={clsx("rounded-[3px] px-1 text-[12px] font-semibold", marks[mark].tone)}>
                {marks[mark].words}
              </li>
            ))}
        </ul>
      </td>
      <td className="py-2">
        <p className="whitespace-nowrap text-second">
          {guest.reviewedAt ? `needed, ${onDay(guest.reviewedAt)}` : "never reviewed"}
        </p>
        <p className="flex flex-wrap gap-x-3">
          {mayKeep && !isReviewed && (
            <button
              type="button"
              className="min-h-6 font-semibold underline"
              disabled={keep.isPending}
              onClick={() => keep.mutate(undefined)}
            >
              Still needed <span className="sr-only">: {guest.person.name}</span>
            </button>
          )}
          {mayAct && guest.sites > 0 && (
            <Link to="/remove-access" search={{ person: guest.person.id }} className="min-h-6 font-semibold underline">
              Remove from everywhere … <span className="sr-only">: {guest.person.name}</span>
            </Link>
          )}
        </p>
        <ActionFault error={keep.error} />
      </td>
    </tr>
  );
}
