import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState, type ChangeEvent } from "react";
import { api, ok, type Schema } from "../api/client";
import { ActionFault } from "../actions/ActionFault";
import { Button } from "../ui/Button";
import { Field, LongField } from "../ui/Field";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { useSources } from "./useSources";

type ManualProcedure = Schema["ManualProcedureSettings"];

const fresh: ManualProcedure = {
  assignee: "",
  account: "",
  support: "",
  days: 5,
  reach:
    "Sign in with the account named below.\nOpen {site} ({address}).\nChange the access as described above.\nSave, and open the site in a browser that is not signed in.",
  owners: "Sign in with the account named below.\nOpen {site} ({address}).\nChange the owner as described above.",
  moveToAttic:
    "Sign in with the account named below.\nShut {site} ({address}) to visitors. Delete nothing.\nOpen it in a browser that is not signed in.",
  restore: "Sign in with the account named below.\nOpen {site} ({address}) to visitors again.",
  look: "Sign in with the account named below.\nOpen {site} ({address}).\nChange its name, description, logo or address as described above.",
};

/** The manual procedure of a host without a connector: who does the tasks, with which account, in which steps. */
export function ManualProcedurePage() {
  const { host } = useSearch({ from: "/books/sources/manual-procedure" });
  const sources = useSources();
  if (!sources.data) return <Waiting title="Host without a connector" error={sources.error} />;
  const known = sources.data.find((source) => source.name === host)?.manualProcedure;
  return <Form key={host} host={host} known={known ?? fresh} />;
}

function Form({ host, known }: { host: string | undefined; known: ManualProcedure }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [kept, setKept] = useState({
    ...known,
    assignee: known.assignee ?? "",
    days: known.days.toString(),
    name: host ?? "",
  });
  const register = (name: keyof typeof kept) => ({
    value: kept[name],
    onChange: (event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) =>
      setKept({ ...kept, [name]: event.target.value }),
  });
  const save = useMutation({
    mutationFn: ({ name, assignee, days, ...rest }: typeof kept) =>
      ok(
        api.PUT("/api/sources/{name}/manual-procedure", {
          params: { path: { name } },
          body: { ...rest, days: Number(days), assignee: assignee.trim() || null },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries();
      await navigate({ to: "/sources" });
    },
  });
  return (
    <SidePanel
      title={host ? `Manual procedure for ${host}` : "Host without a connector"}
      lead="For a host that the product cannot connect to: you import lists of its sites, and changes become manual tasks for a person."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(kept);
        }}
      >
        <Field label="The host's name" readOnly={host !== undefined} maxLength={40} {...register("name")} />
        <Field
          label="Who does the tasks"
          type="email"
          placeholder="a mail address"
          hint="Empty: the person who requests a change does it."
          {...register("assignee")}
        />
        <Field label="Account to use" maxLength={2000} {...register("account")} />
        <Field label="Contact if it does not work" maxLength={2000} {...register("support")} />
        <Field label="Days to do a task" type="number" min={1} max={90} {...register("days")} />
        <LongField
          label="Steps: change who has access"
          rows={5}
          hint="One step a line. {site}, {address} and {key} are replaced with those of the site."
          {...register("reach")}
        />
        <LongField label="Steps: change an owner" rows={4} {...register("owners")} />
        <LongField label="Steps: move to the attic" rows={4} {...register("moveToAttic")} />
        <LongField label="Steps: restore" rows={4} {...register("restore")} />
        <LongField
          label="Steps: change name, description, logo or address"
          rows={4}
          hint="May be empty; the task then says only what is wanted."
          {...register("look")}
        />
        <ActionFault error={save.error} />
        <div className="mt-4 flex items-center gap-4">
          <Button look="primary" type="submit" className="py-2" disabled={save.isPending}>
            Save the procedure
          </Button>
          <Link to="/sources" className="underline">
            Cancel
          </Link>
        </div>
      </form>
    </SidePanel>
  );
}
