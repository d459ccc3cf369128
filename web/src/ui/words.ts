const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short" });
const dayAndYear = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });
const minute = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
const second = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", second: "2-digit" });

/** "12 Nov", with the year if it is not the current one. */
export function onDay(instant: string, now = new Date()): string {
  const at = new Date(instant);
  return at.getFullYear() === now.getFullYear() ? day.format(at) : dayAndYear.format(at);
}

/** The same for a date without a time: "2026-12-09" is the same day in every time zone. */
export const onDate = (date: string, now = new Date()) => (date === "" ? "" : onDay(`${date}T12:00:00`, now));

export const atMinute = (instant: string) => minute.format(new Date(instant));
export const atSecond = (instant: string) => second.format(new Date(instant));

/** "just now", "4 minutes ago", "3 hours ago", else the day. */
export function ago(instant: string, now = new Date()): string {
  const minutes = Math.floor((now.getTime() - new Date(instant).getTime()) / 60_000);
  if (minutes < 1) return "just now";
  if (minutes < 60) return `${minutes} minute${minutes === 1 ? "" : "s"} ago`;
  if (minutes < 60 * 24) return `${Math.floor(minutes / 60)} hour${minutes < 120 ? "" : "s"} ago`;
  return `on ${onDay(instant, now)}`;
}

const small = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"];

/** A number in words up to twelve, in digits above. */
export const inWords = (count: number) => small[count] ?? count.toLocaleString("en-GB");

export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** "1 site", "38 sites". */
export const counted = (count: number, one: string, many = `${one}s`) =>
  `${count.toLocaleString("en-GB")} ${count === 1 ? one : many}`;

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
