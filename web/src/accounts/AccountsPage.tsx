import { labels } from "../api/labels";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { ago, counted } from "../ui/words";
import { AccountChange } from "./AccountChange";

type Account = Schema["Account"];

/** Who may sign in, in which role, and in how many sessions. Each change is shown before it is made. */
export function AccountsPage() {
  const accounts = useQuery({ queryKey: ["accounts"], queryFn: () => ok(api.GET("/api/accounts")) });
  const [find, setFind] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  if (!accounts.data) return <Waiting title="Accounts" error={accounts.error} />;
  const wanted = find.trim().toLowerCase();
  const shown = accounts.data.accounts.filter((account) =>
    `${account.person.name} ${account.person.mail} ${labels.Role[account.role]} ${account.partName ?? ""}`
      .toLowerCase()
      .includes(wanted),
  );
  const close = () => setOpen(null);
  return (
    <SidePanel
      title="Accounts"
      lead={`${counted(accounts.data.accounts.length, "person has", "people have")} an account. A person whom the staff list or a list of people reports as having left cannot sign in.`}
    >
      <div className="flex flex-wrap items-end justify-between gap-3">
        <Field label="Find" type="search" value={find} onChange={(event) => setFind(event.target.value)} />
        <Button onClick={() => setOpen("new")}>Add an account …</Button>
      </div>
      {open === "new" && <AccountChange account={null} change="role" units={accounts.data.units} onEnd={close} />}
      {shown.length === 0 && <p className="mt-6">No account has that name.</p>}
      <ul aria-label="Accounts" className="mt-5">
        {shown.map((account) => (
          <One
            key={account.person.mail}
            account={account}
            units={accounts.data.units}
            open={open}
            onOpen={setOpen}
            onEnd={close}
          />
        ))}
      </ul>
    </SidePanel>
  );
}

function One(props: {
  account: Account;
  units: Schema["Unit"][];
  open: string | null;
  onOpen: (what: string) => void;
  onEnd: () => void;
}) {
  const { account, onOpen } = props;
  const mine = (change: string) => `${change} ${account.person.mail}`;
  const change = (["role", "end-sessions", "remove"] as const).find((kind) => props.open === mine(kind));
  return (
    <li className="border-t border-rule-strong py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <p>
          <Link
            to="/people/$person"
            params={{ person: account.person.id.toString() }}
            className="font-semibold underline"
          >
            <bdi>{account.person.name}</bdi>
          </Link>{" "}
          <span className="font-address text-[13px] text-second">{account.person.mail}</span>
        </p>
        <p>
          {labels.Role[account.role]}
          {account.partName && ` of ${account.partName}`}
        </p>
      </div>
      <p className="text-[13px] text-second">
        {account.hasLeft && <strong className="text-madder">Has left: cannot sign in. </strong>}
        {account.hasPassword
          ? account.lastSignIn
            ? `Signed in ${ago(account.lastSignIn)}, ${account.sessions === 0 ? "no open session" : `now in ${counted(account.sessions, "session")}`}.`
            : "Has never signed in."
          : "Has not chosen a password yet."}
        {account.isSelf && " This is you."}
      </p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        {!account.hasLeft && (
          <Button onClick={() => onOpen(mine("role"))} aria-label={`Another role for ${account.person.name} …`}>
            Change the role …
          </Button>
        )}
        {account.sessions > 0 && (
          <Button
            onClick={() => onOpen(mine("end-sessions"))}
            aria-label={`End the sessions of ${account.person.name} …`}
          >
            End {counted(account.sessions, "session")} …
          </Button>
        )}
        {!account.isSelf && (
          <Button onClick={() => onOpen(mine("remove"))} aria-label={`Remove the account of ${account.person.name} …`}>
            Remove …
          </Button>
        )}
      </div>
      {change && <AccountChange account={account} change={change} units={props.units} onEnd={props.onEnd} />}
    </li>
  );
}
