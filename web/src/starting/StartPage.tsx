import { useNavigate } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { Waiting } from "../ui/SidePanel";
import { ChooseKind } from "./ChooseKind";
import { ChooseReach } from "./ChooseReach";
import { NameAndAddress } from "./NameAndAddress";
import { PeopleField } from "./PeopleField";
import { Remarks } from "./Remarks";
import { empty, keep, kept, useCheck, useStart, type NewSite, type Start } from "./useStart";
import { Verdict } from "./Verdict";
import { firstRefused, remarksOn } from "./words";
import { WhatFor } from "./WhatFor";

/** Starting a site on one page: the kind first, then its name and the rest, with the verdict of the rules at each field. */
export function StartPage() {
  const start = useStart();
  const me = useMe();
  useEffect(() => {
    document.title = "Start a site · Attic Ledger";
  }, []);
  if (!start.data || !me) return <Waiting title="Start a site" error={start.error} />;
  return <Filling start={start.data} mail={me.mail} grants={me.role === "administrator"} />;
}

function Filling({ start, mail, grants }: { start: Start; mail: string; grants: boolean }) {
  const [before] = useState(() => kept(mail));
  const [site, setSite] = useState<NewSite>(() => before ?? { ...empty, unit: start.unit, owners: [start.you.mail] });
  const [isBack, setBack] = useState(before !== null);
  const [isAsked, setAsked] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const navigate = useNavigate();
  const check = useCheck(site);
  const kind = start.kinds.find((one) => one.kind === site.kind);
  const ask = useAction<string, Schema["StartDone"]>(
    (fingerprint) => api.POST("/api/start", { body: { site, fingerprint } }),
    async ({ request }) => {
      keep(mail, null);
      await navigate({ to: "/site-requests/$request", params: { request } });
    },
  );
  const change = (some: Partial<NewSite>) => {
    const next = { ...site, ...some };
    setSite(next);
    keep(mail, next);
  };
  const startAfresh = () => {
    keep(mail, null);
    setSite({ ...empty, unit: start.unit, owners: [start.you.mail] });
    setBack(false);
    setAsked(false);
  };
  const send = () => {
    if (!check.isCurrent) return;
    setAsked(true);
    const refused = check.data && firstRefused(check.data);
    if (refused) form.current?.querySelector<HTMLElement>(`[data-field="${refused}"]`)?.focus();
    else if (check.data) ask.mutate(check.data.fingerprint);
  };
  const field = { site, check: check.data, isAsked, onChange: change };
  return (
    <main className="min-h-0 flex-1 overflow-auto">
      <form
        ref={form}
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          send();
        }}
        className="mx-auto grid max-w-[1180px] gap-x-10 px-4 pt-5 pb-16 sm:px-6 lg:grid-cols-[minmax(0,1fr)_330px]"
      >
        <div className="min-w-0">
          <h1 className="text-[23px]">Start a site</h1>
          <p className="mt-1 text-second">
            Choose what it is, give it a name, and say who it is for. The rules are checked while you type.
          </p>
          {start.kinds.length === 0 && (
            <Notice>
              No kind of site can be started here yet. An administrator sets the kinds up; until then sites are made at
              their hosts.
            </Notice>
          )}
          {isBack && (
            <Notice role="status">
              What you had filled in is back.{" "}
              <button type="button" className="underline" onClick={startAfresh}>
                Start again with an empty form
              </button>
            </Notice>
          )}
          <ChooseKind {...field} kinds={start.kinds} />
          {kind && (
            <>
              <NameAndAddress {...field} kind={kind} />
              <WhatFor {...field} start={start} />
              <fieldset className="mt-7">
                <legend className="font-title text-[17px] font-semibold">Who works on it</legend>
                <PeopleField
                  {...field}
                  field="owners"
                  label="Owners"
                  hint="They answer for the site. Two are better than one. Owners can be changed at any time."
                />
                <PeopleField
                  {...field}
                  field="editors"
                  label="Other people who can edit it"
                  hint="Guests are possible. They can be changed at any time."
                />
              </fieldset>
              <ChooseReach {...field} kind={kind} start={start} />
            </>
          )}
        </div>
        <aside aria-label="What becomes of it" className="mt-8 lg:sticky lg:top-5 lg:mt-1 lg:self-start">
          {kind && check.data && <Verdict check={check.data} kind={kind} days={start.requestDays} grants={grants} />}
          {check.error && <Remarks remarks={[]} fault={check.error.message} />}
          {kind && (
            <>
              <ActionFault error={ask.error} />
              {isAsked && check.data?.granting === "not-allowed" && (
                <p role="alert" className="mt-3 text-[13px] text-madder">
                  Not sent: see the marked{" "}
                  {remarksOn(check.data, "kind", true).length > 0 ? "kind and fields" : "fields"}.
                </p>
              )}
              <Button
                type="submit"
                look="primary"
                className="mt-4 w-full py-2"
                disabled={ask.isPending || !check.isCurrent}
              >
                {check.data?.granting === "by-administrator" ? "Ask an administrator for it" : "Start the site"}
              </Button>
              <p className="mt-2 text-[13px] text-second">What you type is kept in this browser until you send it.</p>
            </>
          )}
        </aside>
      </form>
    </main>
  );
}
