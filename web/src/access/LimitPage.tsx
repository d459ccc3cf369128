import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useRouter, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { ActionFault, Refused } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { SiteName } from "../site-parts/SiteName";
import { Button } from "../ui/Button";
import { Reason } from "../ui/Field";
import { Select } from "../ui/Select";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { useSettled } from "../ui/useSettled";
import { capital, counted, listed } from "../ui/words";
import { inviters, insides, outsides, signIns } from "../api/limits";
import { inWords, plain } from "./limitWords";

type Limits = Schema["Limits"];
type Power = keyof Limits;

const rows: { power: Power; words: string }[] = [
  { power: "view", words: "Published site" },
  { power: "preview", words: "Draft" },
  { power: "edit", words: "Editing" },
];
const open: Schema["Limit"] = {
  inside: "staff",
  outside: "anonymous",
  visitorSignIn: "none",
  guestInviter: "any-owner",
};

/** One limit: tried out over all sites before it is set, with its reason. */
export function LimitPage() {
  const search = useSearch({ from: "/books/limits/change" });
  const book = useQuery({ queryKey: ["limits"], queryFn: () => ok(api.GET("/api/limits")) });
  if (!book.data) return <Waiting title="A limit" error={book.error} />;
  const now = book.data.limits.find(
    ({ kind, code, enforcer }) => kind === search.kind && code === search.code && enforcer === search.enforcer,
  );
  const name =
    now?.name ??
    book.data.without.find(({ kind, code }) => kind === search.kind && code === search.code)?.name ??
    search.code;
  return <Form key={`${search.kind} ${search.code} ${search.enforcer}`} now={now} name={name} />;
}

function Form({ now, name }: { now: Schema["LimitRow"] | undefined; name: string }) {
  const { kind, code, enforcer, to } = useSearch({ from: "/books/limits/change" });
  const navigate = useNavigate();
  const router = useRouter();
  const isAdministrator = useMe()?.role === "administrator";
  const [target, setTarget] = useState<Limits | null>(to ?? now?.limits ?? { view: open, preview: open, edit: open });
  const [reason, setReason] = useState("");
  const settled = useSettled(target);
  const body = { kind, code, enforcer, limits: settled };
  const isSo = now?.limits !== undefined && JSON.stringify(settled) === JSON.stringify(now.limits);
  const tried = useQuery({
    queryKey: ["limit tried", body],
    queryFn: () => ok(api.POST("/api/limits/try", { body })),
    enabled: !isSo,
    placeholderData: (before) => before,
    retry: false,
  });
  const set = useAction(
    (fingerprint: string) => api.POST("/api/limits", { body: { ...body, reason: reason || null, fingerprint } }),
    () => navigate({ to: "/limits" }),
  );
  const result = isSo ? undefined : tried.data;
  const change = (power: Power, limit: Partial<Schema["Limit"]>) =>
    target && setTarget({ ...target, [power]: { ...target[power], ...limit } });
  return (
    <SidePanel
      title={`Limit: ${name}`}
      lead={
        now
          ? `${enforcer === "host" ? "Enforced by the host" : "Policy only"}. Now: ${now.limits ? rows.map(({ power, words }) => `${words.toLowerCase()} ${now.limits ? inWords(now.limits[power]) : ""}`).join(" · ") : "not known"}.`
          : "No such limit is set yet. Policy only."
      }
    >
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (result) set.mutate(result.fingerprint);
        }}
      >
        {target ? (
          <fieldset>
            <legend className="font-semibold">The widest access that it allows</legend>
            <table className="mt-1 w-full text-[13.5px]">
              <thead>
                <tr className="text-left text-[12px] text-second">
                  {["", "Inside", "Outside", "Sign-in", "Guests invited by"].map((head) => (
                    <th key={head} scope="col" className="font-normal">
                      {head || <span className="sr-only">Power</span>}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map(({ power, words }) => (
                  <tr key={power}>
                    <th scope="row" className="py-1 pr-2 text-left font-semibold">
                      {words}
                    </th>
                    <Cell
                      label={`${words}: inside`}
                      words={insides}
                      value={target[power].inside}
                      onChoose={(inside) => change(power, { inside })}
                    />
                    <Cell
                      label={`${words}: outside`}
                      words={outsides}
                      value={target[power].outside}
                      onChoose={(outside) => change(power, { outside })}
                    />
                    <Cell
                      label={`${words}: sign-in`}
                      words={signIns}
                      value={target[power].visitorSignIn}
                      onChoose={(visitorSignIn) => change(power, { visitorSignIn })}
                    />
                    <Cell
                      label={`${words}: guests invited by`}
                      words={inviters}
                      value={target[power].guestInviter ?? "any-owner"}
                      onChoose={(guestInviter) => change(power, { guestInviter })}
                    />
                  </tr>
                ))}
              </tbody>
            </table>
          </fieldset>
        ) : (
          <p className="border-l-[3px] border-ochre pl-3">The limit is removed: it refuses nothing any more.</p>
        )}
        {now && enforcer === "policy" && (
          <p className="mt-1">
            <button
              type="button"
              className="underline"
              onClick={() => setTarget(target ? null : (now.limits ?? { view: open, preview: open, edit: open }))}
            >
              {target ? "Remove the limit instead" : "Keep a limit"}
            </button>
          </p>
        )}
        <section aria-label="Tried out" aria-live="polite" aria-busy={tried.isFetching} className="mt-4">
          {isSo && (
            <p className="text-second">Change something above to see what it would do. Nothing is changed yet.</p>
          )}
          {tried.isFetching && <p className="text-second">Trying it out on all sites …</p>}
          {tried.error && <p className="text-madder">{tried.error.message}</p>}
          {result && !tried.isFetching && (
            <>
              <Refused title="Not possible" reasons={result.asks} />
              {result.asks.length === 0 && <Result tried={result} />}
            </>
          )}
        </section>
        {result?.isOfHost === true && result.asks.length === 0 && (
          <p className="mt-3 border-l-[3px] border-slate pl-3">
            This is a setting of {code || "the host"}. An administrator of {code || "the host"} changes it there, and
            the next sync reports it here.
          </p>
        )}
        {isAdministrator && enforcer === "policy" && <Reason isNeeded value={reason} onChange={setReason} />}
        <ActionFault error={set.error} />
        <div className="mt-4 flex flex-wrap gap-2">
          {isAdministrator && enforcer === "policy" && (
            <Button
              look="primary"
              type="submit"
              className="py-2"
              disabled={!result || result.asks.length > 0 || tried.isFetching || set.isPending || reason.trim() === ""}
            >
              {target ? "Set the limit" : "Remove the limit"}
            </Button>
          )}
          <Button className="py-2" onClick={() => router.history.back()}>
            {isAdministrator && enforcer === "policy" ? "Cancel" : "Back"}
          </Button>
        </div>
      </form>
    </SidePanel>
  );
}

function Cell<T extends string>(props: { label: string; words: T[]; value: T; onChoose: (value: T) => void }) {
  return (
    <td className="py-1 pr-2">
      <Select
        isWide
        isTight
        label={props.label}
        value={props.value}
        choices={props.words.map((word) => ({ value: word, words: plain(word) }))}
        onChoose={props.onChoose}
      />
    </td>
  );
}

function Result({ tried }: { tried: Schema["LimitTryOut"] }) {
  return (
    <>
      <h2 className="font-text text-[14.5px] font-bold">
        {tried.changed === 0
          ? `Nothing changes on ${counted(tried.compared, "site")}.`
          : `Something changes on ${counted(tried.changed, "site")} of ${tried.compared.toLocaleString("en-GB")}.`}
      </h2>
      <ul className="mt-1 list-disc space-y-1 pl-4">
        {tried.waking > 0 && (
          <li className="text-madder">On {counted(tried.waking, "site")} access that is set and waits takes effect.</li>
        )}
        {tried.shutting > 0 && (
          <li>On {counted(tried.shutting, "site")} partners or anonymous visitors lose access.</li>
        )}
        {tried.newlyExceeding > 0 && (
          <li className="text-ochre">On {counted(tried.newlyExceeding, "site")} access then exceeds policy.</li>
        )}
        {tried.noLongerExceeding > 0 && (
          <li>On {counted(tried.noLongerExceeding, "site")} access no longer exceeds policy.</li>
        )}
        <Some count={tried.gaining} people={tried.firstGaining} what="gain access" />
        <Some
          count={tried.losing}
          people={tried.firstLosing}
          what={`lose access${tried.guestsLosing > 0 ? `, ${counted(tried.guestsLosing, "guest")} among them` : ""}`}
        />
        {tried.rules.map((rule) => (
          <li key={rule.rule.id}>
            {capital(rule.rule.short)} ({rule.rule.id}):{" "}
            {[
              ...(rule.opened > 0 ? [counted(rule.opened, "new finding")] : []),
              ...(rule.cleared > 0 ? [`${counted(rule.cleared, "finding")} end`] : []),
            ].join(", ")}
          </li>
        ))}
      </ul>
      {tried.units.length > 0 && (
        <p className="mt-2 text-[13.5px] text-second">
          By unit: {listed(tried.units.map(({ unit, sites }) => `${unit} ${sites.toLocaleString("en-GB")}`))}.
        </p>
      )}
      {tried.sites.length > 0 && (
        <details className="mt-2" open={tried.sites.length <= 8}>
          <summary className="min-h-6 cursor-pointer underline">
            {tried.changed > tried.sites.length
              ? `The first ${tried.sites.length} of the sites`
              : `The ${counted(tried.sites.length, "site")}`}
          </summary>
          <ul className="divide-y divide-rule">
            {tried.sites.map((site) => (
              <li key={site.id} className="py-1.5">
                <SiteName site={site.id} title={site.title} address={null} />
                <span className="block text-[13px] text-second">{listed(whatChanges(site))}.</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function whatChanges(site: Schema["TriedSite"]): string[] {
  const powers = site.powers.flatMap(({ power, gain, lose, opened, shut }) => [
    ...(gain > 0 ? [`${counted(gain, "person", "people")} can ${power}`] : []),
    ...(lose > 0 ? [`${counted(lose, "person", "people")} can no longer ${power}`] : []),
    ...opened.map((door) => `${door} can ${power}`),
    ...shut.map((door) => `${door} can no longer ${power}`),
  ]);
  const exceeds =
    site.exceeds === "yes" && site.exceeded !== "yes"
      ? ["exceeds policy"]
      : site.exceeded === "yes" && site.exceeds !== "yes"
        ? ["no longer exceeds policy"]
        : [];
  const findings = [...site.opened.map((rule) => `${rule} is new`), ...site.cleared.map((rule) => `${rule} ends`)];
  const all = [site.unit?.name ?? "no unit", ...powers, ...exceeds, ...findings];
  return all.length === 1 ? [...all, "what policy allows cannot be told"] : all;
}

function Some({ count, people, what }: { count: number; people: Schema["Person"][]; what: string }) {
  if (count === 0) return null;
  return (
    <li>
      <details>
        <summary className="min-h-6 cursor-pointer">
          {counted(count, "person", "people")} {what}
        </summary>
        <ul className="max-h-48 overflow-auto border-l border-rule pl-2">
          {people.map((person) => (
            <li key={person.id}>
              <Link to="/people/$person" params={{ person: `${person.id}` }} className="underline">
                <bdi>{person.name}</bdi>
              </Link>{" "}
              <span className="text-second">{person.mail}</span>
              {person.isOutside && " (outside)"}
            </li>
          ))}
          {count > people.length && <li className="text-second">and {counted(count - people.length, "other")}</li>}
        </ul>
      </details>
    </li>
  );
}
