import type { Wire } from "../../web/src/api/client";
import type { Sent } from "./open";

export const person = (id: number, name: string) => ({
  id,
  name,
  mail: `${name.toLowerCase().replace(" ", ".")}@merrowby.example`,
  isOutside: false,
});
export const [bell, aske, vane] = [person(1, "Nora Bell"), person(2, "Tomas Aske"), person(3, "Idris Vane")] as const;
/** A plan that comes to nothing. */
export const emptyPlan: Wire["PlanWire"] = {
  fingerprint: "seen",
  changes: [],
  powers: [],
  cleared: [],
  opened: [],
  remains: [],
  visitsAffected: 0,
  along: [],
  sure: "undo-alone",
  needsSecond: null,
  loss: null,
  stopMinutes: null,
  byHand: null,
};
export const plan: Wire["PlanWire"] = { ...emptyPlan, changes: [{ who: "Tomas Aske", from: null, to: "own" }] };
export const done = { place: 9, order: null, offer: "o1", approval: null };
export const posts = (sent: Sent[]) => sent.filter((one) => one.call.startsWith("POST"));
