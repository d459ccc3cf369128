import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { counted } from "../ui/words";

/** Explains why a site is not in the register's list: where it is, or what is known about it. */
export function WhyNot() {
  const [text, setText] = useState("");
  const [asked, setAsked] = useState("");
  const answer = useQuery({
    queryKey: ["why-not", asked],
    queryFn: () => ok(api.GET("/api/sources/why-not", { params: { query: { text: asked } } })),
    enabled: asked !== "",
  });
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        setAsked(text.trim());
      }}
    >
      <div className="flex items-end gap-2">
        <div className="min-w-0 flex-1">
          <Field
            label="Why is a site not here?"
            placeholder="name or address"
            value={text}
            maxLength={100}
            onChange={(event) => setText(event.target.value)}
          />
        </div>
        <Button type="submit" className="mb-0.5 h-9" disabled={text.trim() === "" || answer.isFetching}>
          Search
        </Button>
      </div>
      <div role="status" className="mt-2">
        {answer.data && asked !== "" && <Answer answer={answer.data} />}
        {answer.error && <p className="text-madder">{answer.error.message}</p>}
      </div>
    </form>
  );
}

function Answer({ answer }: { answer: Schema["WhyNotListed"] }) {
  return (
    <ul className="space-y-1 border-l-[3px] border-brass bg-bookmark px-3 py-2">
      {answer.sites.map((site) => (
        <li key={site.id}>
          <Link to="/sites/$site" params={{ site: site.id.toString() }} className="font-semibold underline">
            <bdi>{site.title}</bdi>
          </Link>{" "}
          {where(site)}
        </li>
      ))}
      {answer.moreSites > 0 && <li>{counted(answer.moreSites, "more site")} with that name.</li>}
      {[...answer.refused, ...answer.words].map((words) => (
        <li key={words}>{words}</li>
      ))}
    </ul>
  );
}

function where(site: Schema["FoundSite"]): string {
  if (site.existence === "erased") return `was erased at ${site.host}; its row stays.`;
  if (site.existence === "attic")
    return "is in the attic. The register shows it only with the status filter “are in the attic”.";
  if (site.noLongerReported)
    return `is no longer reported: ${site.host} did not contain it in the last complete sync. It may have been deleted or moved there.`;
  return `is in the register, on ${site.host}${site.unit ? `, in ${site.unit.name}` : ", in no known unit"}.`;
}
