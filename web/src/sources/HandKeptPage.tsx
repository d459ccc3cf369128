import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState, type ChangeEvent } from "react";
import { api, ok, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { Button } from "../ledger/Button";
import { Field, LongField } from "../ledger/Field";
import { Sheet, Waiting } from "../ledger/Sheet";
import { useSources } from "./useSources";

type HandKept = Wire["HandKeptWire"];

const fresh: HandKept = {
  doer: "",
  account: "",
  support: "",
  days: 5,
  reach:
    "Sign in with the account named below.\nOpen {site} ({address}).\nChange who is let in, as said above.\nSave, and look at it as somebody who is not signed in.",
  key: "Sign in with the account named below.\nOpen {site} ({address}).\nChange its owner, as said above.",
  putAway:
    "Sign in with the account named below.\nShut {site} ({address}) to visitors. Delete nothing.\nLook at it as somebody who is not signed in.",
  bringBack: "Sign in with the account named below.\nOpen {site} ({address}) to visitors again.",
};

/** How a host is worked that has neither reader nor writer: who does what is asked, with which account, in which steps. */
export function HandKeptPage() {
  const { host } = useSearch({ from: "/books/sources/by-hand" });
  const sources = useSources();
  if (!sources.data) return <Waiting title="A host kept by hand" error={sources.error} />;
  const known = sources.data.find((source) => source.name === host)?.hand;
  return <Form key={host} host={host} known={known ?? fresh} />;
}

function Form({ host, known }: { host: string | undefined; known: HandKept }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [kept, setKept] = useState({ ...known, doer: known.doer ?? "", days: known.days.toString(), name: host ?? "" });
  const register = (name: keyof typeof kept) => ({
    value: kept[name],
    onChange: (event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) =>
      setKept({ ...kept, [name]: event.target.value }),
  });
  const save = useMutation({
    mutationFn: ({ name, doer, days, ...rest }: typeof kept) =>
      ok(
        api.PUT("/api/sources/{name}/hand", {
          params: { path: { name } },
          body: { ...rest, days: Number(days), doer: doer.trim() || null },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries();
      await navigate({ to: "/sources" });
    },
  });
  return (
    <Sheet
      title={host ? `How ${host} is worked by hand` : "A host kept by hand"}
      lead="For a host that nothing can be read from and nothing sent to: a list tells of its sites, and what is asked of it goes to a person."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(kept);
        }}
      >
        <Field label="The host's name" readOnly={host !== undefined} maxLength={40} {...register("name")} />
        <Field
          label="Who does what is asked"
          type="email"
          placeholder="a mail address"
          hint="Left empty, whoever asks for something does it."
          {...register("doer")}
        />
        <Field label="The account that can" maxLength={2000} {...register("account")} />
        <Field label="Whom to turn to when it does not work" maxLength={2000} {...register("support")} />
        <Field label="Days to do it" type="number" min={1} max={90} {...register("days")} />
        <LongField
          label="Steps: change who is let in"
          rows={5}
          hint="A step a line; {site}, {address} and {key} stand for the site's own."
          {...register("reach")}
        />
        <LongField label="Steps: change an owner" rows={4} {...register("key")} />
        <LongField label="Steps: put away" rows={4} {...register("putAway")} />
        <LongField label="Steps: bring back" rows={4} {...register("bringBack")} />
        <DeedFault error={save.error} />
        <div className="mt-4 flex items-center gap-4">
          <Button look="deed" type="submit" className="py-2" disabled={save.isPending}>
            Keep it so
          </Button>
          <Link to="/sources" className="underline">
            Leave it
          </Link>
        </div>
      </form>
    </Sheet>
  );
}
