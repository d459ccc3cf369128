import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { api, ok, type Wire } from "../api/client";
import { Button } from "../ledger/Button";
import { Sheet, Waiting } from "../ledger/Sheet";
import { ago, counted } from "../ledger/words";

type Day = Wire["DeadlineWire"];

const month = new Intl.DateTimeFormat("en-GB", { month: "long", year: "numeric", timeZone: "UTC" });
const dayOf = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", timeZone: "UTC" });

const monthOf = (day: Day) => month.format(new Date(day.day));

const colours: Record<Day["kind"], string> = {
  "bring-back": "border-madder",
  offer: "border-slate",
  approval: "border-slate",
  leaver: "border-ochre",
  plan: "border-ochre",
  "way-in": "border-rule-strong",
  "by-hand": "border-moss",
  excuse: "border-ochre",
};

/** The days by which something ends or is to be done, and the link under which a calendar reads them. */
export function CalendarPage() {
  const calendar = useQuery({ queryKey: ["calendar"], queryFn: () => ok(api.GET("/api/calendar")) });
  if (!calendar.data) return <Waiting title="Days to come" error={calendar.error} />;
  const { days } = calendar.data;
  const months = [...new Set(days.map(monthOf))];
  return (
    <Sheet
      title="Days to come"
      lead={
        days.length === 0
          ? "Nothing of what you may see ends in the year to come."
          : `${counted(days.length, "day")} in the year to come by which something of what you may see ends or is to be done.`
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
    </Sheet>
  );
}

function Feed({ calendar }: { calendar: Wire["CalendarWire"] }) {
  const queries = useQueryClient();
  const [link, setLink] = useState<string | null>(null);
  const [isCopied, setCopied] = useState(false);
  const make = useMutation({
    mutationFn: () => ok(api.POST("/api/calendar")),
    onSuccess: (made) => {
      setLink(made.link);
      setCopied(false);
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["calendar"] }),
  });
  const revoke = useMutation({
    mutationFn: () => ok(api.DELETE("/api/calendar")),
    onSuccess: () => setLink(null),
    onSettled: () => queries.invalidateQueries({ queryKey: ["calendar"] }),
  });
  const fault = make.error ?? revoke.error;
  return (
    <section aria-label="In your own calendar" className="mt-4 border-l-[3px] border-slate pl-3">
      <h2 className="font-text text-[15px] font-bold">In your own calendar</h2>
      <p className="text-second">
        {calendar.madeAt === null
          ? "A link lets your calendar read these days by itself. Whoever has the link reads them too, so treat it as a password."
          : `There is a link since ${ago(calendar.madeAt)}; ${calendar.readAt ? `a calendar last read it ${ago(calendar.readAt)}` : "no calendar has read it yet"}.`}
      </p>
      {link && (
        <div className="mt-2 flex items-end gap-2">
          <label className="min-w-0 flex-1 font-semibold">
            The link, shown once
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
          look={calendar.madeAt === null ? "deed" : "plain"}
          disabled={make.isPending}
          onClick={() => make.mutate()}
        >
          {calendar.madeAt === null ? "Make a link" : "Make another in its place"}
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
