import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { api, ok } from "../api/client";
import { useMe } from "../api/useMe";
import { SiteName } from "../site-parts/SiteName";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { counted } from "../ui/words";

/** A group: who is in it, and on which sites it is granted something. Groups are changed at their host. */
export function GroupPage() {
  const { group: id } = useParams({ from: "/books/groups/$group" });
  const role = useMe()?.role;
  const group = useQuery({
    queryKey: ["group", id],
    queryFn: () => ok(api.GET("/api/groups/{group}", { params: { path: { group: Number(id) } } })),
    retry: false,
  });
  if (!group.data) return <Waiting title="A group" error={group.error} />;
  const { name, isComplete, people, members, sites } = group.data;
  return (
    <SidePanel
      title={name}
      lead={`A group of ${isComplete ? "" : "at least "}${counted(people, "person", "people")}${isComplete ? "" : "; its source reports only a part of it"}. Its members are changed at its host.`}
    >
      <section className="mt-5" aria-label="Sites">
        <div className="flex items-baseline justify-between gap-4">
          <h2 className="text-[17px]">Granted to it on {counted(sites.length, "site")}</h2>
          {sites.length > 0 && (role === "administrator" || role === "steward") && (
            <Link to="/remove-access" search={{ group: Number(id) }} className="underline">
              Remove access …
            </Link>
          )}
        </div>
        {sites.length === 0 && <p className="mt-1 text-second">No site in use in your scope grants it anything.</p>}
        <ul className="mt-1 divide-y divide-rule border-y border-rule">
          {sites.map((site) => (
            <li key={site.id} className="flex items-baseline justify-between gap-4 py-1.5">
              <SiteName site={site.id} title={site.title} address={site.address} />
              <span className="shrink-0">{site.power}</span>
            </li>
          ))}
        </ul>
      </section>
      <section className="mt-6" aria-label="Members">
        <h2 className="text-[17px]">Members</h2>
        {members.length === 0 && <p className="mt-1 text-second">Nobody is in it.</p>}
        <ul className="mt-1 columns-1 gap-x-6 sm:columns-2">
          {members.map(({ person, standing }) => (
            <li key={person.id} className="py-0.5">
              <Link to="/people/$person" params={{ person: person.id.toString() }} className="hover:underline">
                <bdi>{person.name}</bdi>
              </Link>
              {person.isOutside && " (outside)"}
              {standing === "left" && <span className="text-madder"> has left</span>}
            </li>
          ))}
        </ul>
        {people > members.length && (
          <p className="mt-1 text-second">{counted(people - members.length, "more person", "more people")}</p>
        )}
      </section>
    </SidePanel>
  );
}
