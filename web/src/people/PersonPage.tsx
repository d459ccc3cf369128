import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import clsx from "clsx";
import { useEffect, useState } from "react";
import { api, ApiError, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { SiteName } from "../site-parts/SiteName";
import { capital, counted, onDate } from "../ui/words";
import { writeClause } from "../register/clause";

type Page = Schema["PersonPage"];
type Site = Schema["GrantedSite"];

const kinds = {
  staff: "Staff",
  guest: "A guest from outside",
  service: "A service account",
  operator: "An operator of this product",
};
const powers = {
  view: "views",
  preview: "previews",
  edit: "edits",
  publish: "publishes",
  invite: "invites",
  manage: "manages",
  own: "owns",
};

/** A person: what they own, edit and view by name, group or unit, and which sites are offered to them or by them. */
export function PersonPage() {
  const { person: id } = useParams({ from: "/books/people/$person" });
  const person = useQuery({
    queryKey: ["person", id],
    queryFn: () => ok(api.GET("/api/people/{person}", { params: { path: { person: Number(id) } } })),
  });
  const data = person.data;
  const role = useMe()?.role;
  const mayAct = role === "administrator" || role === "steward";
  const seesAll = role === "administrator" || role === "auditor";
  useEffect(() => {
    if (data) document.title = `${data.person.name} · Attic Ledger`;
  }, [data]);
  if (!data) {
    const isMissing = person.error instanceof ApiError && person.error.status === 404;
    return (
      <main className="p-8">
        <h1 className="text-[20px]">{isMissing ? "There is no such person" : "A person"}</h1>
        <p role="status" className="mt-2 text-second">
          {isMissing ? "The register has no person with this number." : (person.error?.message ?? "…")}
        </p>
      </main>
    );
  }
  return (
    <main className="min-h-0 flex-1 overflow-auto">
      <div className="border-b border-rule-strong px-5 pt-3.5 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-[21px]">
            <bdi>{data.person.name}</bdi>
          </h1>
          <p className="font-address text-[13.5px] text-second">{data.person.mail}</p>
        </div>
        <p className="mt-1">
          {kinds[data.kind]}
          {data.unit && ` in ${data.unit.name}`}, <Standing page={data} />.{" "}
          {data.mailFails && <span className="text-madder">Mail to this address failed.</span>}
        </p>
        <p className="mt-1 text-second">
          Owns {counted(data.owns, "site")} in use and edits {data.edits.toLocaleString("en-GB")} more.{" "}
          {data.owns > 0 && (
            <Link
              to="/"
              search={{ where: [writeClause({ attribute: "owners.value", how: "is", values: [data.person.mail] })] }}
              className="underline"
            >
              See the owned sites in the register
            </Link>
          )}{" "}
          {mayAct && data.sites.some((site) => site.through === null && site.existence === "in-use") && (
            <Link to="/remove-access" search={{ person: data.person.id }} className="underline">
              Remove access …
            </Link>
          )}{" "}
          {seesAll && (
            <Link
              to="/reports/$report"
              params={{ report: "actions" }}
              search={{ by: data.person.id }}
              className="underline"
            >
              Their actions here
            </Link>
          )}
        </p>
      </div>
      {data.asStaff && <AsStaff can={data.asStaff} />}
      <Sponsors page={data} />
      {data.offers.length > 0 && <Offers offers={data.offers} />}
      <Sites page={data} />
    </main>
  );
}

/** Most of what people can see is open to all of the staff, and is not listed site by site. */
function AsStaff({ can }: { can: NonNullable<Page["asStaff"]> }) {
  const sites = (attribute: string, count: number) => (
    <Link to="/" search={{ where: [writeClause({ attribute, how: "is", values: ["staff"] })] }} className="underline">
      {counted(count, "site")}
    </Link>
  );
  return (
    <p className="border-b border-rule px-5 py-2">
      As one of all staff: views {sites("view.inside", can.view)} and edits {sites("edit.inside", can.edit)} in use,
      listed below only where they have more there.
    </p>
  );
}

function Standing({ page }: { page: Page }) {
  const day = page.day ? onDate(page.day) : null;
  switch (page.standing) {
    case "left":
      return <span className="text-madder">left{day && ` on ${day}`}</span>;
    case "leaving":
      return <span className="text-ochre">leaving{day ? `, last day ${day}` : ", date not known"}</span>;
    case "absent":
      return <span className="text-ochre">absent{day && ` until ${day}`}</span>;
    default:
      return <>current</>;
  }
}

/** Who invited a guest, and the guests that a person invited. */
function Sponsors({ page }: { page: Page }) {
  if (page.kind !== "guest" && page.sponsored.length === 0) return null;
  return (
    <section className="border-b border-rule px-5 py-3">
      {page.kind === "guest" && (
        <p className={clsx(page.sponsors.length === 0 && "text-madder")}>
          {page.sponsors.length === 0 ? "No source reports who invited them." : "Invited by "}
          {page.sponsors.map((sponsor, at) => (
            <span key={sponsor.source}>
              {at > 0 && ", "}
              <Who one={sponsor} /> ({sponsor.source} reports it)
            </span>
          ))}
        </p>
      )}
      {page.sponsored.length > 0 && (
        <>
          <h2 className="text-[16px]">Invited {counted(page.sponsored.length, "guest")}</h2>
          <ul className="mt-1 columns-2 gap-x-6">
            {page.sponsored.map((guest) => (
              <li key={`${guest.person.id} ${guest.source}`} className="py-0.5">
                <Who one={guest} /> <span className="font-address text-[13px] text-second">{guest.person.mail}</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function Who({ one }: { one: Page["sponsors"][number] }) {
  return (
    <>
      <Link to="/people/$person" params={{ person: `${one.person.id}` }} className="underline">
        <bdi>{one.person.name}</bdi>
      </Link>
      {one.standing === "left" && <span className="text-madder"> who left</span>}
    </>
  );
}

function Offers({ offers }: { offers: Page["offers"] }) {
  return (
    <section className="border-b border-rule px-5 py-3">
      <h2 className="text-[16px]">Handovers under way</h2>
      <ul className="mt-1">
        {offers.map((offer) => (
          <li key={offer.id}>
            <Link to="/offers/$offer" params={{ offer: offer.id }} className="underline">
              <bdi>{offer.title}</bdi>
            </Link>
            : {offer.isToThem ? "offered to them" : "offered by them"},{" "}
            {offer.state === "completing" ? "being completed" : `open until the end of ${onDate(offer.through)}`}
          </li>
        ))}
      </ul>
    </section>
  );
}

const filters = {
  all: { words: "Everything", holds: () => true },
  owns: { words: "Owned", holds: (site: Site) => site.power === "own" },
  edits: { words: "Edited", holds: (site: Site) => ["edit", "publish", "invite", "manage"].includes(site.power) },
  reads: { words: "Viewed or previewed", holds: (site: Site) => site.power === "view" || site.power === "preview" },
};

function Sites({ page }: { page: Page }) {
  const [which, setWhich] = useState<keyof typeof filters>("all");
  const sites = page.sites.filter(filters[which].holds);
  return (
    <section aria-label="Sites">
      <div role="group" aria-label="Which sites" className="flex gap-x-4 px-5 py-2">
        {Object.entries(filters).map(([key, { words, holds }]) => (
          <button
            key={key}
            type="button"
            aria-pressed={which === key}
            onClick={() => setWhich(key as keyof typeof filters)}
            className={clsx("min-h-6 border-b-2", which === key ? "border-brass font-semibold" : "border-transparent")}
          >
            {words} {page.sites.filter(holds).length.toLocaleString("en-GB")}
          </button>
        ))}
      </div>
      {sites.length === 0 ? (
        <p className="px-5 py-4 text-second">No site in your scope matches.</p>
      ) : (
        <table className="w-full text-[13.5px]">
          <thead>
            <tr className="h-[30px] text-left text-[12px] text-second">
              <th scope="col" className="w-[110px] border-r-4 border-double border-margin-rule pr-3 text-right">
                Access
              </th>
              <th scope="col" className="pl-2">
                Site
              </th>
              <th scope="col">Unit</th>
              <th scope="col">By</th>
              <th scope="col">
                <span className="sr-only">Why</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {sites.map((site, at) => (
              <tr key={site.id} className={Math.floor(at / 3) % 2 === 1 ? "bg-bar" : "bg-sheet"}>
                <td className="border-r-4 border-double border-margin-rule py-1.5 pr-3 text-right">
                  {powers[site.power]}
                </td>
                <td className="py-1.5 pr-3 pl-2">
                  <SiteName
                    site={site.id}
                    title={site.title}
                    address={site.address}
                    note={
                      site.existence === "attic" && <span className="font-normal text-second"> (in the attic)</span>
                    }
                  />
                </td>
                <td className="py-1.5 pr-3">{site.unit?.name ?? "none"}</td>
                <td className="py-1.5 pr-4">
                  {site.through ? <bdi>{capital(site.through)}</bdi> : "name"}
                  {site.onlyActive && <span className="block text-[12.5px] text-madder">the only active owner</span>}
                </td>
                <td className="py-1.5 pr-4">
                  {site.existence === "in-use" && (
                    <Link
                      to="/sites/$site/why"
                      params={{ site: `${site.id}` }}
                      search={{ person: page.person.id, power: site.power }}
                      className="underline"
                    >
                      Why<span className="sr-only"> they get into {site.title}</span>
                    </Link>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {page.total > page.sites.length && (
        <p className="px-5 py-3 text-second">
          {(page.total - page.sites.length).toLocaleString("en-GB")} more are not listed.
        </p>
      )}
    </section>
  );
}
