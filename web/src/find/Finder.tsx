import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useState, type ReactNode } from "react";
import { api, ok, type Schema } from "../api/client";
import { counted } from "../ui/words";
import { placesFor } from "./places";

const stateOf = (site: Schema["FoundSite"]) =>
  site.existence === "attic"
    ? "in the attic"
    : site.existence === "erased"
      ? "erased"
      : site.noLongerReported
        ? "no longer reported by its host"
        : site.status === null
          ? "status not known"
          : site.status === "unpublished-changes"
            ? "published, with unpublished changes"
            : site.status.replace("-", " ");

/** The finder's search as a filter of the register. */
const everywhere = (text: string) =>
  `(title co ${JSON.stringify(text)} or name co ${JSON.stringify(text)} or address co ${JSON.stringify(text.toLowerCase())}) and existence pr`;

/** Ctrl K: finds sites, people, pages and actions, also by other words for them. */
export function Finder({ me, onClose }: { me: Schema["Me"]; onClose: () => void }) {
  const navigate = useNavigate();
  const [text, setText] = useState("");
  const wanted = text.trim();
  const found = useQuery({
    queryKey: ["find", wanted],
    queryFn: () => ok(api.GET("/api/find", { params: { query: { text: wanted } } })),
    enabled: wanted !== "" && wanted.length <= 100,
    placeholderData: keepPreviousData,
  });
  const answer = wanted === "" ? undefined : found.data;
  const there = placesFor(wanted, me.role);
  const go = (where: () => Promise<void>) => {
    onClose();
    void where();
  };
  const isNothing =
    answer?.sites.length === 0 && answer.people.length === 0 && answer.groups.length === 0 && there.length === 0;
  return (
    // A modal dialog would lock scrolling by a style of its own, which the content policy does not allow.
    <Dialog.Root open modal={false} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[12vh] left-1/2 z-40 w-[min(620px,calc(100vw-24px))] -translate-x-1/2 rounded-[5px] border border-rule-strong bg-sheet text-ink"
        >
          <Dialog.Title className="sr-only">Finder</Dialog.Title>
          <Command label="Finder" shouldFilter={false} loop>
            <Command.Input
              value={text}
              onValueChange={setText}
              placeholder="A site, an address, a person, or what you want to do"
              className="block w-full rounded-t-[5px] border-b border-rule-strong bg-sheet px-4 py-3 text-[16px] placeholder:text-second"
            />
            <Command.List className="max-h-[56vh] overflow-auto pb-2">
              {answer && answer.sites.length > 0 && (
                <Group heading="Sites">
                  {answer.sites.map((site) => (
                    <Item
                      key={site.id}
                      value={`site ${site.id}`}
                      words={site.title}
                      hint={[site.address, site.unit?.name, site.former && `before: ${site.former}`]
                        .filter(Boolean)
                        .join(" · ")}
                      state={stateOf(site)}
                      onSelect={() => go(() => navigate({ to: "/sites/$site", params: { site: site.id.toString() } }))}
                    />
                  ))}
                  {answer.moreSites > 0 && (
                    <Item
                      value="more sites"
                      words={`${counted(answer.moreSites, "more site")} …`}
                      hint="all of them in the register"
                      onSelect={() => go(() => navigate({ to: "/", search: { filter: everywhere(wanted) } }))}
                    />
                  )}
                </Group>
              )}
              {answer && answer.people.length > 0 && (
                <Group heading="People">
                  {answer.people.map((one) => (
                    <Item
                      key={one.person.id}
                      value={`person ${one.person.id}`}
                      words={one.person.name}
                      hint={`${one.person.mail}${one.person.isOutside ? " · outside" : ""}`}
                      state={`${one.standing === "current" ? "" : `${one.standing}, `}${one.sites === 0 ? "owns no site" : `owns ${counted(one.sites, "site")}`}`}
                      onSelect={() =>
                        go(() => navigate({ to: "/people/$person", params: { person: one.person.id.toString() } }))
                      }
                    />
                  ))}
                  {answer.morePeople > 0 && (
                    <More>{counted(answer.morePeople, "more person", "more people")}: type more of the name.</More>
                  )}
                </Group>
              )}
              {answer && answer.groups.length > 0 && (
                <Group heading="Groups">
                  {answer.groups.map((group) => (
                    <Item
                      key={group.id}
                      value={`group ${group.id}`}
                      words={group.name}
                      hint="a group"
                      state={`${group.isComplete ? "" : "at least "}${counted(group.people, "person", "people")}`}
                      onSelect={() =>
                        go(() => navigate({ to: "/groups/$group", params: { group: group.id.toString() } }))
                      }
                    />
                  ))}
                  {answer.moreGroups > 0 && (
                    <More>{counted(answer.moreGroups, "more group")}: type more of the name.</More>
                  )}
                </Group>
              )}
              {there.length > 0 && (
                <Group heading="Pages and actions">
                  {there.map((place) => (
                    <Item
                      key={place.words}
                      value={`place ${place.words}`}
                      words={place.words}
                      hint={place.hint}
                      onSelect={() =>
                        go(() =>
                          place.report
                            ? navigate({ to: "/reports/$report", params: { report: place.report }, search: {} })
                            : navigate({ to: place.to, search: place.search ?? {} }),
                        )
                      }
                    />
                  ))}
                </Group>
              )}
            </Command.List>
            <p role="status" className="border-t border-rule px-4 py-1.5 text-[13px] text-second">
              {found.error
                ? found.error.message
                : isNothing
                  ? me.role === "owner"
                    ? "Nothing found among the sites that you own. Try a part of the name or the address."
                    : "Nothing found. Try a part of the name or the address."
                  : "↑ ↓ move, Enter goes there, Esc closes."}
            </p>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Group({ heading, children }: { heading: string; children: ReactNode }) {
  return (
    <Command.Group
      heading={heading}
      className="[&>[cmdk-group-heading]]:px-4 [&>[cmdk-group-heading]]:pt-3 [&>[cmdk-group-heading]]:pb-1 [&>[cmdk-group-heading]]:text-[12.5px] [&>[cmdk-group-heading]]:font-semibold [&>[cmdk-group-heading]]:text-second"
    >
      {children}
    </Command.Group>
  );
}

function More({ children }: { children: ReactNode }) {
  return <p className="px-4 py-1 text-[13px] text-second">{children}</p>;
}

function Item(props: { value: string; words: string; hint: string; state?: string; onSelect: () => void }) {
  return (
    <Command.Item
      value={props.value}
      onSelect={props.onSelect}
      className="flex cursor-pointer items-baseline gap-4 border-l-[7px] border-transparent px-3 py-1 data-[selected=true]:border-brass data-[selected=true]:bg-bookmark"
    >
      <span className="min-w-0 flex-1">
        <bdi className="block truncate font-semibold">{props.words}</bdi>
        <span className="block truncate text-[13px] text-second">{props.hint}</span>
      </span>
      {props.state && <span className="shrink-0 text-[13px] text-second">{props.state}</span>}
    </Command.Item>
  );
}
