import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { ChoosePerson } from "../site-parts/ChoosePerson";
import { RadioGroup } from "../ui/RadioGroup";
import { counted } from "../ui/words";
import { effectText } from "./effectText";
import { useAdjust } from "./useAdjust";
import { lineActionOf } from "./words";

type Line = Schema["BatchLine"];
type Batch = Schema["Batch"];

/** Leaves a site out of a plan, or includes it again. */
export function LeaveOut({ batch, line }: { batch: Batch; line: Line }) {
  const adjust = useAdjust(batch);
  const isOut = line.outcome === "left-out";
  if (line.outcome === "refused" || (line.action === "site.look" && line.name === null)) return null;
  return (
    <button
      type="button"
      className="min-h-6 underline"
      disabled={adjust.isPending}
      onClick={() => adjust.mutate({ sites: [line.site], action: isOut ? line.action : null })}
    >
      {isOut ? "Include again" : "Leave out"}
      <span className="sr-only">: {line.title}</span>
    </button>
  );
}

/** What can be done on one site, with the effect of each on today's facts. */
export function LineChoices({ batch, line, onDone }: { batch: Batch; line: Line; onDone: () => void }) {
  const [chosen, setChosen] = useState<string>(keyOf(line));
  const [through, setThrough] = useState("");
  const [to, setTo] = useState<Schema["Person"] | null>(null);
  const choices = useQuery({
    queryKey: ["batch-choices", batch.id, line.site],
    queryFn: () =>
      ok(
        api.GET("/api/batches/{batch}/choices", {
          params: { path: { batch: batch.id }, query: { site: line.site } },
        }),
      ),
  });
  const adjust = useAdjust(batch, onDone);
  const one = choices.data?.find((choice) => keyOf(choice) === chosen);
  const day = one?.action === "exception.grant" ? through || (one.through ?? "") : "";
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (one)
          adjust.mutate({
            sites: [line.site],
            action: one.action,
            through: day || null,
            ...(one.action === "owner.offer" && to && { person: to.id }),
          });
      }}
    >
      <fieldset>
        <legend className="font-semibold">
          What is done on <bdi>{line.title}</bdi>
        </legend>
        <RadioGroup
          isRuled
          isBusy={choices.isFetching}
          value={chosen}
          onChoose={setChosen}
          choices={(choices.data ?? []).map((choice) => ({
            value: keyOf(choice),
            isDisabled: choice.refused.length > 0,
            shown: (
              <span>
                <b>{lineActionOf(to && choice.action === "owner.offer" ? { ...choice, about: to.name } : choice)}</b>
                {": "}
                {choice.refused.length > 0
                  ? choice.refused.map(({ sentence }) => sentence).join(" ")
                  : effectText(choice)}
              </span>
            ),
          }))}
          note={choices.data?.length === 0 && "The site has no finding of this cause any more."}
        />
      </fieldset>
      {one?.action === "exception.grant" && (
        <label className="mt-2 block">
          Last day of the exception{" "}
          <input
            type="date"
            required
            value={day}
            onChange={(event) => setThrough(event.target.value)}
            className="rounded-[4px] border border-rule-strong bg-sheet px-2 py-1"
          />
        </label>
      )}
      {one?.action === "owner.offer" && <SomebodyElse site={line.site} to={to} onChoose={setTo} />}
      {(adjust.error ?? choices.error) && (
        <p role="alert" className="mt-2 text-madder">
          {(adjust.error ?? choices.error)?.message}
        </p>
      )}
      <p className="mt-2 flex gap-2">
        <Button look="primary" type="submit" disabled={!one || one.refused.length > 0 || adjust.isPending}>
          Plan it so
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </p>
    </form>
  );
}

/** Another person than the one who is proposed as an owner. */
function SomebodyElse(props: {
  site: number;
  to: Schema["Person"] | null;
  onChoose: (person: Schema["Person"]) => void;
}) {
  const [find, setFind] = useState("");
  const found = useQuery({
    queryKey: ["candidates", [props.site], find],
    queryFn: () => ok(api.POST("/api/owners/candidates", { body: { sites: [props.site], find: find || null } })),
    placeholderData: (before) => before,
    staleTime: 60_000,
  });
  return (
    <ChoosePerson
      note="Somebody else than the person who is proposed. Sorted by who edits the site, then by its unit, then by the fewest sites owned."
      candidates={found.data?.candidates.map(({ person, whyNot, edits, unit, load }) => ({
        person,
        whyNot,
        evidence: [edits > 0 ? "edits it" : null, unit ? `in ${unit}` : null, `owns ${counted(load, "site")}`]
          .filter((part) => part !== null)
          .join("; "),
      }))}
      chosen={props.to?.id ?? null}
      onChoose={props.onChoose}
      find={find}
      onFind={setFind}
      isBusy={found.isFetching}
      error={found.error}
    />
  );
}

const keyOf = ({ action, about, rule }: Line) => [action, about ?? "", rule?.id ?? ""].join(" ");
