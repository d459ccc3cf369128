import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { ago, counted } from "../ui/words";

type Day = Schema["Deadline"];

const month = new Intl.DateTimeFormat("en-GB", { month: "long", year: "numeric", timeZone: "UTC" });
const dayOf = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", timeZone: "UTC" });

const monthOf = (day: Day) => month.format(new Date(day.day));

const colours: Record<Day["kind"], string> = {
  restore: "border-madder",
  offer: "border-slate",
  approval: "border-slate",
  leaver: "border-ochre",
  plan: "border-ochre",
  "way-in": "border-rule-strong",
  "manual-task": "border-moss",
  exception: "border-ochre",
};

/** The days on which something ends or has to be done, and the link for calendar programs. */
export function DeadlinesPage() {
  const calendar = useQuery({ queryKey: ["deadlines"], queryFn: () => ok(api.GET("/api/deadlines")) });
  if (!calendar.data) return <Waiting title="Deadlines" error={calendar.error} />;
  const { days } = calendar.data;
  const months = [...new Set(days.map(monthOf))];
  return (
    <SidePanel
      title="Deadlines"
      lead={
        days.length === 0
          ? "Nothing in your scope ends within a year."
          : `${counted(days.length, "day")} within a year on which something in your scope ends or has to be done.`
      }
    >
      <Feed calendar={calendar.data} />
      {months.map((name) => (
        <section key={name} aria-label={name} className="mt-6">
          <h2 className="text-[18px]">{name}</h2>
          <ul className="mt-1 divide-y divide-rule border-y border-rule">
            {days
              .filter((day) => monthOf(day) === name)
              .map((day) => (
                <li key={`${day.day} ${day.title}`} className="flex gap-3 py-2">
                  <time dateTime={day.day} className="w-[62px] shrink-0 text-second">
                    {dayOf.format(new Date(day.day))}
                  </time>
                  <p className={`min-w-0 flex-1 border-l-[3px] pl-3 ${colours[day.kind]}`}>
                    {day.site ? (
                      <Link
                        to="/sites/$site"
                        params={{ site: day.site.toString() }}
                        className="font-semibold underline"
                      >
                        <bdi>{day.title}</bdi>
                      </Link>
                    ) : (
                      <Link
                        to="/people/$person"
                        params={{ person: String(day.person) }}
                        className="font-semibold underline"
                      >
                        <bdi>{day.title}</bdi>
                      </Link>
                    )}
                    <span className="block text-[13px] text-second">
                      <bdi>{day.words}</bdi>
                    </span>
                  </p>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </SidePanel>
  );
}

function Feed({ calendar }: { calendar: Schema["Deadlines"] }) {
  const queries = useQueryClient();
  const [link, setLink] = useState<string | null>(null);
  const [isCopied, setCopied] = useState(false);
  const make = useMutation({
    mutationFn: () => ok(api.POST("/api/calendar")),
    onSuccess: (made) => {
      setLink(made.link);
      setCopied(false);
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["deadlines"] }),
  });
  const revoke = useMutation({
    mutationFn: () => ok(api.DELETE("/api/calendar")),
    onSuccess: () => setLink(null),
    onSettled: () => queries.invalidateQueries({ queryKey: ["deadlines"] }),
  });
  const fault = make.error ?? revoke.error;
  return (
    <section aria-label="In your own calendar" className="mt-4 border-l-[3px] border-slate pl-3">
      <h2 className="font-text text-[15px] font-bold">In your own calendar</h2>
      <p className="text-second">
        {calendar.madeAt === null
          ? "With a link your calendar program reads these days. Anyone who has the link can read them, so treat it as a password."
          : `The link was made on ${ago(calendar.madeAt)}; ${calendar.readAt ? `a calendar last read it ${ago(calendar.readAt)}` : "no calendar has used it yet"}.`}
      </p>
      {link && (
        <div className="mt-2 flex items-end gap-2">
          <label className="min-w-0 flex-1 font-semibold">
            The link, shown only once
            <input
              readOnly
              value={link}
              onFocus={(event) => event.target.select()}
              className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-2 font-address text-[13px] font-normal"
            />
          </label>
          <Button className="py-2" onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}>
            {isCopied ? "Copied" : "Copy"}
          </Button>
        </div>
      )}
      <p className="mt-2 flex gap-2">
        <Button
          look={calendar.madeAt === null ? "primary" : "plain"}
          disabled={make.isPending}
          onClick={() => make.mutate()}
        >
          {calendar.madeAt === null ? "Make a link" : "Replace the link"}
        </Button>
        {calendar.madeAt !== null && (
          <Button disabled={revoke.isPending} onClick={() => revoke.mutate()}>
            Revoke it
          </Button>
        )}
      </p>
      {fault && (
        <p role="alert" className="text-madder">
          {fault.message}
        </p>
      )}
    </section>
  );
}
