import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";
import { counted } from "../ledger/words";

/** Why a site is not where somebody looks for it: where it is, or what can be said of it. */
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
            placeholder="its name or its address"
            value={text}
            maxLength={100}
            onChange={(event) => setText(event.target.value)}
          />
        </div>
        <Button type="submit" className="mb-0.5 h-9" disabled={text.trim() === "" || answer.isFetching}>
          Look
        </Button>
      </div>
      <div role="status" className="mt-2">
        {answer.data && asked !== "" && <Answer answer={answer.data} />}
        {answer.error && <p className="text-madder">{answer.error.message}</p>}
      </div>
    </form>
  );
}

function Answer({ answer }: { answer: Wire["WhyNotWire"] }) {
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
      {answer.moreSites > 0 && <li>{counted(answer.moreSites, "more site")} called like that.</li>}
      {[...answer.refused, ...answer.words].map((words) => (
        <li key={words}>{words}</li>
      ))}
    </ul>
  );
}

function where(site: Wire["FoundSiteWire"]): string {
  if (site.existence === "cleared") return `was cleared for good at ${site.host}; its line stays.`;
  if (site.existence === "attic") return "lies in the attic, so the register leaves it out unless asked for.";
  if (site.vanished)
    return `has vanished: ${site.host} no longer listed it when it was last read to the end. It may have been deleted there, or moved.`;
  return `is in the register, on ${site.host}${site.unit ? `, in ${site.unit.name}` : ", in no known unit"}.`;
}
