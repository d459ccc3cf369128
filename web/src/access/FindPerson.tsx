import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Field } from "../ui/Field";
import { useSettled } from "../ui/useSettled";

interface Found {
  person?: Schema["Person"];
  group?: { id: number; name: string; people: number };
}

/** A search for a person, and for a group where one can be chosen, by a part of the name or the mail address. Owners find only whom they can name to a site. */
export function FindPerson(props: { label: string; onChoose: (found: Found) => void; withGroups?: boolean }) {
  const [find, setFind] = useState("");
  const settled = useSettled(find.trim());
  const isOwner = useMe()?.role === "owner";
  const found = useQuery({
    queryKey: ["who", settled, isOwner, props.withGroups],
    queryFn: async (): Promise<Found[]> => {
      if (isOwner) {
        const people = await ok(api.GET("/api/start/people", { params: { query: { text: settled } } }));
        return people.map((person) => ({ person }));
      }
      const all = await ok(api.GET("/api/find", { params: { query: { text: settled } } }));
      return [
        ...all.people.map(({ person }) => ({ person })),
        ...(props.withGroups ? all.groups.map((group) => ({ group })) : []),
      ];
    },
    enabled: settled !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const results = settled === "" ? [] : (found.data ?? []);
  return (
    <div>
      <Field
        label={props.label}
        type="search"
        placeholder="Part of a name, or the mail address"
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <ul aria-label="Found" aria-live="polite" className="mt-1 divide-y divide-rule">
        {results.map((one) => (
          <li key={one.person ? `p${one.person.id}` : `g${one.group?.id}`}>
            <button
              type="button"
              className="w-full px-1 py-1.5 text-left hover:bg-bar"
              onClick={() => {
                props.onChoose(one);
                setFind("");
              }}
            >
              <bdi className="font-semibold">{one.person?.name ?? one.group?.name}</bdi>{" "}
              <span className="text-[13px] break-all text-second">
                {one.person?.mail ?? `group, ${one.group?.people.toLocaleString("en-GB")} people`}
              </span>
              {one.person?.isOutside && <Outside />}
            </button>
          </li>
        ))}
        {settled !== "" && found.data?.length === 0 && (
          <li className="px-1 py-1.5 text-second">Nobody is found by that.</li>
        )}
      </ul>
      {found.error && (
        <p role="alert" className="text-madder">
          {found.error.message}
        </p>
      )}
    </div>
  );
}

/** The mark of somebody from outside. */
export function Outside() {
  return <span className="ml-1.5 rounded-[3px] bg-slate-pale px-1 text-[12px] text-slate">outside</span>;
}
