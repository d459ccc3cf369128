/** The time zone of all instants on the screens: the organisation's, once it is known. */
let zone: string | undefined;
let formats = formatsIn(undefined);

function formatsIn(timeZone: string | undefined) {
  const own = new Intl.DateTimeFormat().resolvedOptions().timeZone;
  const at = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat("en-GB", { ...options, ...(timeZone && { timeZone }) });
  // The zone is named where it is not the reader's own.
  const named: Intl.DateTimeFormatOptions = timeZone && timeZone !== own ? { timeZoneName: "short" } : {};
  const time: Intl.DateTimeFormatOptions = { hour: "2-digit", minute: "2-digit", ...named };
  return {
    day: at({ day: "numeric", month: "short" }),
    dayAndYear: at({ day: "numeric", month: "short", year: "numeric" }),
    year: at({ year: "numeric" }),
    minute: at({ day: "numeric", month: "short", ...time }),
    second: at({ second: "2-digit", ...time }),
    full: at({ weekday: "long", day: "numeric", month: "long", year: "numeric", ...time }),
    parts: at({
      year: "numeric",
      month: "2-digit",
      day: "2-digit",
      hour: "2-digit",
      minute: "2-digit",
      second: "2-digit",
      hourCycle: "h23",
    }),
  };
}

/** Shows all instants in the organisation's time zone from now on. */
export function showInZone(name: string) {
  if (zone === name) return;
  zone = name;
  formats = formatsIn(name);
}

/** "12 Nov", with the year if it is not the current one. */
export function onDay(instant: string, now = new Date()): string {
  const at = new Date(instant);
  return formats.year.format(at) === formats.year.format(now) ? formats.day.format(at) : formats.dayAndYear.format(at);
}

const dateFormats = {
  day: new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: "UTC" }),
  dayAndYear: new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: "UTC" }),
  weekday: new Intl.DateTimeFormat("en-GB", { weekday: "long", timeZone: "UTC" }),
};

/** The same for a date without a time: "2026-12-09" is the same day in every time zone. */
export const onDate = (date: string, now = new Date()) =>
  date === ""
    ? ""
    : (date.slice(0, 4) === formats.year.format(now) ? dateFormats.day : dateFormats.dayAndYear).format(
        new Date(`${date}T12:00:00Z`),
      );

export const atMinute = (instant: string) => formats.minute.format(new Date(instant));
export const atSecond = (instant: string) => formats.second.format(new Date(instant));

/** "Tuesday": of a date without a time. */
export const weekday = (date: string) => dateFormats.weekday.format(new Date(`${date}T12:00:00Z`));

/** "Tuesday, 1 December 2026 at 07:30". */
export const inFull = (instant: string) => formats.full.format(new Date(instant));

/** The instant of "2026-12-01T07:30" in the organisation's time zone, as a date-time field gives it. */
export function instantOf(local: string): string {
  const wanted = Date.parse(`${local.length === 16 ? `${local}:00` : local}Z`);
  const shownAt = (instant: number) => {
    const part = Object.fromEntries(formats.parts.formatToParts(instant).map(({ type, value }) => [type, value]));
    return Date.parse(
      `${part.year ?? ""}-${part.month ?? ""}-${part.day ?? ""}T${part.hour ?? ""}:${part.minute ?? ""}:${part.second ?? ""}Z`,
    );
  };
  // The second step corrects what a change of the clocks between the two instants adds.
  const near = wanted - (shownAt(wanted) - wanted);
  return new Date(near - (shownAt(near) - wanted)).toISOString();
}

/** "just now", "4 minutes ago", "3 hours ago", else the day. */
export function ago(instant: string, now = new Date()): string {
  const minutes = Math.floor((now.getTime() - new Date(instant).getTime()) / 60_000);
  if (minutes < 1) return "just now";
  if (minutes < 60) return `${minutes} minute${minutes === 1 ? "" : "s"} ago`;
  if (minutes < 60 * 24) return `${Math.floor(minutes / 60)} hour${minutes < 120 ? "" : "s"} ago`;
  return `on ${onDay(instant, now)}`;
}

/** "1,284". */
export const digits = (count: number) => count.toLocaleString("en-GB");

export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** "1 site", "38 sites". */
export const counted = (count: number, one: string, many = `${one}s`) => `${digits(count)} ${count === 1 ? one : many}`;

/** "a, b and c". */
export const listed = (parts: string[]) =>
  parts.length < 2 ? (parts[0] ?? "") : `${parts.slice(0, -1).join(", ")} and ${parts[parts.length - 1] ?? ""}`;

const units = ["bytes", "kB", "MB", "GB", "TB"];

/** "1.2 GB", in powers of a thousand. */
export function inBytes(bytes: number): string {
  let size = bytes;
  let unit = 0;
  while (size >= 999.5 && unit < units.length - 1) {
    size /= 1000;
    unit++;
  }
  return `${unit === 0 || size >= 99.5 ? Math.round(size) : size.toPrecision(2)} ${units[unit] ?? ""}`;
}
