import type { Schema } from "./client";

type Limit = Schema["Limit"];

export const insides: Schema["InsideWord"][] = ["nobody", "named-in-unit", "named", "unit", "staff"];
export const outsides: Schema["OutsideLevel"][] = ["no-one", "named-guests", "partners", "anonymous"];
export const signIns: Schema["VisitorSignIn"][] = ["account", "one-time-code", "none"];
export const inviters: Schema["GuestInviter"][] = ["no-one", "steward", "any-owner"];

/** The limits that an address carries; null if it carries none, or something else. */
export function readLimits(raw: unknown): Schema["Limits"] | null {
  const of = (power: string): Limit | null => {
    const limit = field(raw, power);
    const among = <T extends string>(name: string, values: T[]) => values.find((one) => one === field(limit, name));
    const [inside, outside] = [among("inside", insides), among("outside", outsides)];
    const [visitorSignIn, guestInviter] = [among("visitorSignIn", signIns), among("guestInviter", inviters)];
    return inside && outside && visitorSignIn
      ? { inside, outside, visitorSignIn, guestInviter: guestInviter ?? "any-owner" }
      : null;
  };
  const [view, preview, edit] = [of("view"), of("preview"), of("edit")];
  return view && preview && edit ? { view, preview, edit } : null;
}

const field = (raw: unknown, name: string): unknown =>
  typeof raw === "object" && raw !== null ? (raw as Record<string, unknown>)[name] : undefined;
