import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams, useSearch } from "@tanstack/react-router";
import clsx from "clsx";
import { api, ok, type Schema } from "../api/client";
import type { WhySearch } from "../api/search";
import { useMe } from "../api/useMe";
import { useSitePage } from "../api/useSitePage";
import { Select } from "../ui/Select";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { capital, counted, listed } from "../ui/words";
import { FindPerson, Outside } from "./FindPerson";
import { powers } from "./powers";

type Why = Schema["Why"];
type Truth = Schema["Truth"];

const kinds: { kind: Schema["VisitorKind"]; words: string }[] = [
  { kind: "not-signed-in", words: "Not signed in" },
  { kind: "new-guest", words: "A guest whom nobody has invited yet" },
  { kind: "partner", words: "Somebody of a partner" },
];

/** Whether somebody gets into a site, through what or stopped by what, and the smallest set of changes that would let them in. */
export function WhyPage() {
  const { site } = useParams({ from: "/books/sites/$site/why" });
  const { person, kind, power = "view" } = useSearch({ from: "/books/sites/$site/why" });
  const navigate = useNavigate();
  const sitePage = useSitePage(Number(site));
  const me = useMe();
  const isAsked = person !== undefined || kind !== undefined;
  const query = { ...(person !== undefined && { person }), ...(kind !== undefined && { kind }), power };
  const why = useQuery({
    queryKey: ["why", site, query],
    queryFn: () => ok(api.GET("/api/sites/{site}/why", { params: { path: { site: Number(site) }, query } })),
    enabled: isAsked,
    placeholderData: (before) => before,
    retry: false,
  });
  if (!sitePage.data) return <Waiting title="Why somebody gets in" error={sitePage.error} />;
  const ask = (search: WhySearch) =>
    void navigate({ to: "/sites/$site/why", params: { site }, search: { power, ...search }, replace: true });
  const { line, grants } = sitePage.data;
  const named = grants.filter((grant) => grant.person !== null);
  return (
    <SidePanel
      title={`Who gets into ${line.title}, and why`}
      lead={
        <Link to="/sites/$site" params={{ site }} className="font-address text-[13px] break-all underline">
          {line.address ?? line.title}
        </Link>
      }
    >
      <section aria-label="Question" className="mt-3 border-b border-rule pb-4">
        <div className="grid gap-x-4 sm:grid-cols-[230px_1fr]">
          <Select
            isWide
            labelled="above"
            label="What"
            value={power}
            choices={powers.map(({ value, can }) => ({ value, words: capital(can) }))}
            onChoose={(chosen) => ask({ ...query, power: chosen })}
          />
          {/* Owners learn about other people through common sites. */}
          {me !== undefined && me.role !== "owner" && (
            <FindPerson
              label={why.data?.person ? "Another person" : "A person"}
              onChoose={(found) => found.person && ask({ person: found.person.id })}
            />
          )}
        </div>
        <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1">
          <span className="text-second">Or a kind of person:</span>
          {kinds.map((one) => (
            <button
              key={one.kind}
              type="button"
              aria-pressed={kind === one.kind}
              className={kind === one.kind ? "border-b-2 border-brass font-semibold" : "underline"}
              onClick={() => ask({ kind: one.kind })}
            >
              {one.words}
            </button>
          ))}
        </p>
        {(!isAsked || me?.role === "owner") && named.length > 0 && (
          <p className="mt-2 text-[13px] text-second">
            Named here:{" "}
            {named.slice(0, 8).map((grant, at) => (
              <span key={`${grant.person} ${at}`}>
                {at > 0 && ", "}
                <button
                  type="button"
                  className="underline"
                  onClick={() => grant.person !== null && ask({ person: grant.person })}
                >
                  <bdi>{grant.who}</bdi>
                </button>
              </span>
            ))}
            {named.length > 8 && ` and ${named.length - 8} more`}
          </p>
        )}
      </section>
      {why.error ? (
        <p role="alert" className="mt-4 text-madder">
          {why.error.message}
        </p>
      ) : isAsked ? (
        why.data && <Answer why={why.data} site={site} />
      ) : (
        <p className="mt-4 text-second">
          Choose a person or a kind of person. The answer names what lets them in, or everything that stops them and the
          least that would have to change.
        </p>
      )}
    </SidePanel>
  );
}

const verdicts: Record<Truth, string> = { yes: "Yes", no: "No", unknown: "Cannot tell" };
const tones: Record<Truth, string> = {
  yes: "bg-moss-pale text-moss",
  no: "bg-madder-pale text-madder",
  unknown: "bg-ochre-pale text-ochre",
};

function Answer({ why, site }: { why: Why; site: string }) {
  const can = powers.find(({ value }) => value === why.power)?.can ?? why.power;
  const [first] = why.ways;
  const shown = first ?? why.newGrant;
  return (
    <div aria-live="polite">
      <h2 className="mt-5 flex flex-wrap items-baseline gap-x-3 text-[18px]">
        <span className={clsx("rounded-[3px] px-1.5 text-[15px] font-bold", tones[why.getsIn])}>
          {verdicts[why.getsIn]}
        </span>
        <span>
          <bdi>{why.who}</bdi>{" "}
          {why.getsIn === "yes" ? `can ${can}.` : why.getsIn === "no" ? `cannot ${can}.` : `may be able to ${can}.`}
        </span>
      </h2>
      <p className="text-second">
        {why.person && (
          <>
            <Link to="/people/$person" params={{ person: `${why.person.id}` }} className="text-[13px] underline">
              {why.person.mail}
            </Link>
            {why.person.isOutside && <Outside />}{" "}
          </>
        )}
        {why.hasLeft && <span className="text-madder">has left. </span>}
        {policy(why)}
      </p>
      {why.expected !== null && why.expected !== why.getsIn && (
        <p className="mt-1 text-ochre">
          A change is under way at {why.host}. Once it is confirmed, the answer is:{" "}
          {verdicts[why.expected].toLowerCase()}.
        </p>
      )}
      {why.unknown.length > 0 && (
        <section className="mt-3 border-l-[3px] border-ochre pl-3">
          <h3 className="font-text text-[14px] font-bold">What is not known</h3>
          <ul>
            {why.unknown.map((sentence) => (
              <li key={sentence}>
                <bdi>{sentence}</bdi>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className="mt-4">
        <h3 className="text-[16px]">{first ? "Granted through" : "No grant is for them"}</h3>
        {first ? (
          <ol className="mt-1 divide-y divide-rule border-y border-rule">
            {why.ways.map((way, at) => (
              <li key={at} className="flex flex-wrap items-baseline justify-between gap-x-3 py-1.5">
                <Chain way={way} who={why.who} />
                <span className={clsx("rounded-[3px] px-1 text-[12.5px] font-semibold", tones[way.lets])}>
                  {way.lets === "yes" ? "lets them in" : way.lets === "no" ? "stopped" : "cannot tell"}
                </span>
              </li>
            ))}
            {why.moreWays > 0 && <li className="py-1.5 text-second">and {counted(why.moreWays, "other grant")}</li>}
          </ol>
        ) : (
          <p className="text-second">
            {why.newGrant
              ? `The table shows what ${why.newGrant.through === "An invitation" ? "an invitation" : "a grant to them"} would meet.`
              : "A grant to them is not possible."}
          </p>
        )}
      </section>
      {shown && <Gates way={shown} />}
      {why.smallest && (
        <section className="mt-5">
          <h3 className="text-[16px]">
            {why.smallest.changes.length === 1 ? "The change that" : "The changes that"} would let them in
          </h3>
          <Changes set={why.smallest} why={why} site={site} />
        </section>
      )}
      {why.getsIn === "no" && !why.smallest && (
        <p className="mt-4">
          {why.hasLeft
            ? "Nobody who has left is granted anything. Somebody who returns is granted access again."
            : "No change that is known here would let them in."}
        </p>
      )}
      {why.others.length > 0 && (
        <details className="mt-3">
          <summary className="min-h-6 cursor-pointer underline">
            {why.others.length === 1 ? "Another way" : `${why.others.length} other ways`}
          </summary>
          {why.others.map((set, at) => (
            <Changes key={at} set={set} why={why} site={site} />
          ))}
        </details>
      )}
    </div>
  );
}

function policy({ getsIn, allowed }: Why): string {
  if (getsIn === "yes") {
    return allowed === "yes"
      ? "Policy allows it."
      : allowed === "no"
        ? "Policy does not allow it: the access exceeds policy."
        : "Whether policy allows it cannot be told.";
  }
  return "";
}

function Chain({ way, who }: { way: Schema["WayIn"]; who: string }) {
  return (
    <span>
      {way.chain.length === 0 ? (
        <bdi>{way.through}</bdi>
      ) : (
        <>
          {way.chain.map((group, at) => (
            <span key={group.id}>
              {at > 0 && <span aria-hidden> → </span>}
              <Link to="/groups/$group" params={{ group: `${group.id}` }} className="underline">
                <bdi>{group.name}</bdi>
              </Link>
            </span>
          ))}
          <span aria-hidden> → </span>
          <bdi>{who}</bdi>
        </>
      )}{" "}
      <span className="text-second">
        ({way.power}
        {way.includes === "unknown" && ", perhaps"})
      </span>
    </span>
  );
}

/** Every layer with what it allows and its verdict: all of them, never the first alone. */
function Gates({ way }: { way: Schema["WayIn"] }) {
  const says: Record<Truth, string> = { yes: "lets them in", no: "stops them", unknown: "cannot tell" };
  return (
    <table className="mt-3 w-full text-[13.5px]">
      <caption className="sr-only">What is on the way, and its verdict</caption>
      <thead>
        <tr className="text-left text-[12px] text-second">
          {["On the way", "Allows", "Enforced by", "Verdict"].map((name) => (
            <th key={name} scope="col" className="pb-1 font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {way.gates.map((gate, at) => {
          const isOnlyPolicy = gate.enforcer === "policy";
          return (
            <tr key={at} className="border-t border-rule">
              <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
                <bdi>{gate.name}</bdi>
              </th>
              <td className="py-1.5 pr-3">{capital(gate.says)}</td>
              <td className="py-1.5 pr-3">{isOnlyPolicy ? "policy only" : "the host"}</td>
              <td
                className={clsx(
                  "py-1.5 font-semibold",
                  gate.lets === "yes"
                    ? "text-moss"
                    : gate.lets === "unknown" || isOnlyPolicy
                      ? "text-ochre"
                      : "text-madder",
                )}
              >
                {gate.lets === "no" && isOnlyPolicy ? "does not allow it, stops nobody" : says[gate.lets]}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Changes({ set, why, site }: { set: Schema["LetIn"]; why: Why; site: string }) {
  const others = [
    ...(set.otherPeople > 0 ? [counted(set.otherPeople, "other person", "other people")] : []),
    ...set.otherDoors,
  ];
  return (
    <div className="mt-2">
      <ol className="list-decimal space-y-1.5 pl-5">
        {set.changes.map((change) => (
          <li key={change.words}>
            <bdi>{change.words}</bdi>{" "}
            <span className="text-[13px] text-second">
              By {change.by}.
              {change.otherSites !== null &&
                change.otherSites > 0 &&
                ` The group opens ${counted(change.otherSites, "other site")} in use, too.`}
              {change.kind === "loosen-limit" && " It applies to every site under this limit."}
            </span>{" "}
            <Do change={change} why={why} site={site} isAllowed={set.againstPolicy.length === 0} />
          </li>
        ))}
      </ol>
      <p className="mt-2 text-[13.5px]">
        {others.length > 0 ? (
          <span className="text-ochre">On this site it also lets in {listed(others)}.</span>
        ) : (
          <span className="text-second">On this site it lets in nobody else.</span>
        )}
        {!set.isCertain && <span className="text-ochre"> Something that is not known still decides.</span>}
        {set.againstPolicy.length > 0 && (
          <span className="text-madder">
            {" "}
            Policy does not allow it all the same: limited by {listed(set.againstPolicy)}.
          </span>
        )}
      </p>
    </div>
  );
}

/** The action for a change, where there is one here and the viewer may. */
function Do(props: { change: Schema["AccessChange"]; why: Why; site: string; isAllowed: boolean }) {
  const { change, why, site } = props;
  const role = useMe()?.role;
  const mayAct = role !== "auditor";
  const seesAll = role === "administrator" || role === "auditor";
  if (change.kind === "loosen-limit" && change.limit && seesAll) {
    return (
      <Link to="/limits/change" search={{ ...change.limit, ...(change.to && { to: change.to }) }} className="underline">
        See what else it opens …
      </Link>
    );
  }
  if (mayAct && change.kind === "invite-guest") {
    return (
      <Link to="/sites/$site/invite" params={{ site }} search={{ power: why.power }} className="underline">
        Invite them …
      </Link>
    );
  }
  if (!mayAct || change.kind !== "grant") return null;
  if (!props.isAllowed) {
    return (
      <Link to="/limits" className="underline">
        See the limits that come first
      </Link>
    );
  }
  const all = why.kind === "partner" ? "partners" : why.kind === "not-signed-in" ? "anonymous" : null;
  return (
    <Link
      to="/sites/$site/grant-access"
      params={{ site }}
      search={{ power: why.power, ...(why.person ? { person: why.person.id } : all ? { all } : {}) }}
      className="underline"
    >
      Grant it …
    </Link>
  );
}
