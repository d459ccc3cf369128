import { Select } from "../ui/Select";
import { labels } from "../api/labels";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, ApiError, ok, type Schema } from "../api/client";
import { Refused } from "../actions/ActionFault";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";

type Kind = Schema["AccountChangeKind"];

const titles: Record<Kind, string> = {
  role: "Another role",
  "end-sessions": "End all sessions",
  remove: "Remove the account",
};

/** Changes one account. The plan is shown while the form is filled in, and only that plan is carried out. */
export function AccountChange(props: {
  account: Schema["Account"] | null;
  change: Kind;
  units: Schema["Unit"][];
  onEnd: () => void;
}) {
  const { account, change, units } = props;
  const queries = useQueryClient();
  const [mail, setMail] = useState(account?.person.mail ?? "");
  const [role, setRole] = useState<Schema["Role"]>(account?.role ?? "steward");
  const [part, setPart] = useState(account?.part ?? "");
  const of = useId();
  const request: Schema["AccountRequest"] =
    change === "role"
      ? { mail, change, role, part: role === "steward" && part !== "" ? part : null }
      : { mail, change, role: null, part: null };
  const isSaid = mail.trim() !== "" && !(change === "role" && role === "steward" && part === "");
  const plan = useQuery({
    queryKey: ["account change", request],
    queryFn: () => ok(api.POST("/api/accounts/plan", { body: request })),
    enabled: isSaid,
    retry: false,
    gcTime: 0,
  });
  const carry = useMutation({
    mutationFn: (fingerprint: string) => ok(api.POST("/api/accounts/change", { body: { request, fingerprint } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["accounts"] });
      props.onEnd();
    },
    // The facts have changed: the new plan is shown.
    onError: () => queries.invalidateQueries({ queryKey: ["account change"] }),
  });
  const planned = isSaid ? plan.data : undefined;
  return (
    <form
      aria-labelledby={of}
      className="mt-4 border-l-[3px] border-slate pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (planned?.fingerprint) carry.mutate(planned.fingerprint);
      }}
    >
      <h2 id={of} className="font-text text-[15px] font-bold">
        {account ? titles[change] : "New account"}
      </h2>
      {!account && (
        <Field
          label="Mail address"
          type="email"
          required
          value={mail}
          onChange={(event) => setMail(event.target.value)}
          hint="The person has to be on the staff list or on an imported list of people."
        />
      )}
      {change === "role" && (
        <>
          <Choice
            label="Role"
            value={role}
            choices={Object.entries(labels.Role)}
            onChoose={(chosen) => setRole(chosen as Schema["Role"])}
          />
          {role === "steward" && (
            <Choice
              label="Unit"
              value={part}
              choices={[["", "choose one"], ...units.map((unit): [string, string] => [unit.code, unit.name])]}
              onChoose={setPart}
            />
          )}
        </>
      )}
      {planned?.follows.map((sentence) => (
        <p key={sentence} className="mt-2 text-[13px]">
          {sentence}
        </p>
      ))}
      {planned && <Refused title="That cannot be done" reasons={planned.refused} />}
      {isSaid && plan.error && (
        <p role="alert" className="mt-2 text-madder">
          {plan.error.message}
        </p>
      )}
      {carry.error && (
        <p role="alert" className="mt-2 text-madder">
          {carry.error instanceof ApiError && carry.error.status === 409
            ? "Something has changed since you looked. Nothing was done. Read the new plan and confirm it."
            : carry.error.message}
        </p>
      )}
      <div className="mt-3 flex gap-1.5">
        <Button type="submit" look="primary" disabled={!planned?.fingerprint || carry.isPending}>
          {!account ? "Give the account" : change === "role" ? "Give the role" : titles[change]}
        </Button>
        <Button onClick={props.onEnd}>Cancel</Button>
      </div>
    </form>
  );
}

function Choice(props: {
  label: string;
  value: string;
  choices: [string, string][];
  onChoose: (value: string) => void;
}) {
  return (
    <Select
      isWide
      labelled="above"
      label={props.label}
      value={props.value}
      choices={props.choices.map(([value, words]) => ({ value, words }))}
      onChoose={props.onChoose}
    />
  );
}
