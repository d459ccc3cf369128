import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { useSelection } from "../batches/selection";
import { Button } from "../ui/Button";
import { Field, LongField } from "../ui/Field";
import { RadioGroup } from "../ui/RadioGroup";
import { SidePanel } from "../ui/SidePanel";
import { counted } from "../ui/words";

type Way = Schema["RenamingWay"];

const ways: { value: Way; shown: string }[] = [
  { value: "replace", shown: "Replace some words by others" },
  { value: "begin", shown: "Put words before the name" },
  { value: "tidy", shown: "Remove “copy”, “old”, “final”, versions and the like" },
  { value: "list", shown: "Take the names from a list" },
];

/** New names for the selected sites, or for those that a list names. Leads to the plan for each site. */
export function RenameManyPage() {
  const sites = [...useSelection()];
  const navigate = useNavigate();
  const [chosen, setWay] = useState<Way>("replace");
  const way = sites.length === 0 ? "list" : chosen;
  const [find, setFind] = useState("");
  const [words, setWords] = useState("");
  const [list, setList] = useState("");
  const plan = useMutation({
    mutationFn: () =>
      ok(
        api.POST("/api/batches/renaming", {
          body: {
            way,
            sites: way === "list" ? null : sites,
            find: way === "replace" ? find : null,
            words: way === "replace" || way === "begin" ? words : null,
            list: way === "list" ? list : null,
          },
        }),
      ),
    onSuccess: ({ id }) => navigate({ to: "/batches/$batch", params: { batch: id } }),
  });
  const isComplete = { replace: find, begin: words, tidy: "tidy", list }[way].trim() !== "";
  return (
    <SidePanel title={sites.length === 0 ? "Rename sites from a list" : `Rename ${counted(sites.length, "site")}`}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          plan.mutate();
        }}
      >
        <p className="mb-3 border-l-[3px] border-slate pl-3">
          The names change at the hosts; the addresses stay. You see every new name first, and can change each of them.
        </p>
        {sites.length > 0 && (
          <fieldset>
            <legend className="font-semibold">The new names</legend>
            <RadioGroup choices={ways} value={way} onChoose={setWay} />
          </fieldset>
        )}
        {way === "replace" && (
          <Field
            label="Replace"
            value={find}
            autoComplete="off"
            onChange={(event) => setFind(event.target.value)}
            hint="Whole words, in capitals or not."
          />
        )}
        {(way === "replace" || way === "begin") && (
          <Field
            label={way === "replace" ? "By" : "Words before the name"}
            value={words}
            autoComplete="off"
            onChange={(event) => setWords(event.target.value)}
            hint={
              way === "replace"
                ? "Leave it empty to remove them."
                : "{unit} stands for the code of each site’s unit. A name that begins so already stays."
            }
          />
        )}
        {way === "list" && (
          <LongField
            label="List"
            rows={8}
            value={list}
            onChange={(event) => setList(event.target.value)}
            placeholder={"site\tnew name"}
            hint="Paste two columns of a spreadsheet, with their headings “site” and “new name”. A site is its address, or the name that it has now."
          />
        )}
        {plan.error && (
          <p role="alert" className="mt-2 text-madder">
            {plan.error.message}
          </p>
        )}
        <div className="mt-4 flex flex-wrap gap-2">
          <Button look="primary" type="submit" className="py-2" disabled={!isComplete || plan.isPending}>
            Plan the new names …
          </Button>
          <Link to="/" className="inline-block min-h-6 px-2 py-2 underline">
            Cancel
          </Link>
        </div>
      </form>
    </SidePanel>
  );
}
