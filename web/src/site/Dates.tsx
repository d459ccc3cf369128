import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { api, ok, type Schema } from "../api/client";
import { onDate, onDay } from "../ui/words";
import { Section } from "./Section";

/** The past and coming dates of a site, with today between them. */
export function Dates({ sitePage }: { sitePage: Schema["SitePage"] }) {
  const site = sitePage.line.id;
  const days = useQuery({
    queryKey: ["site-days", site],
    queryFn: () => ok(api.GET("/api/sites/{site}/dates", { params: { path: { site } } })),
  });
  const past = [
    { at: sitePage.created, words: "Created" },
    { at: sitePage.line.lastEdit, words: "Last edited" },
    { at: sitePage.lastVisit, words: "Last visited" },
  ]
    .flatMap(({ at, words }) => (at ? [{ at, words }] : []))
    .sort((a, b) => a.at.localeCompare(b.at));
  return (
    <Section title="Dates">
      {past.map(({ at, words }) => (
        <li key={words} className="flex gap-3 border-b border-rule py-1.5">
          <time dateTime={at} className="w-[92px] shrink-0 text-second">
            {onDay(at)}
          </time>
          {words}
        </li>
      ))}
      <li className="flex gap-3 border-b-2 border-brass py-1.5 font-semibold">
        <span className="w-[92px] shrink-0">Today</span>
        {days.data?.length === 0 && <span className="font-normal text-second">Nothing of it ends within a year.</span>}
        {days.error && <span className="font-normal text-madder">{days.error.message}</span>}
      </li>
      {days.data?.map((day) => (
        <li key={`${day.day} ${day.title}`} className="flex gap-3 border-b border-rule py-1.5">
          <time dateTime={day.day} className="w-[92px] shrink-0 text-second">
            {onDate(day.day)}
          </time>
          <span className="min-w-0">
            {day.person === null ? (
              <bdi>{day.title}</bdi>
            ) : (
              <Link to="/people/$person" params={{ person: `${day.person}` }} className="underline">
                <bdi>{day.title}</bdi>
              </Link>
            )}
            <span className="block text-[13px] text-second">
              <bdi>{day.words}</bdi>
            </span>
          </span>
        </li>
      ))}
    </Section>
  );
}
