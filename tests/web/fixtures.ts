import type { Schema } from "../../web/src/api/client";
import type { Sent } from "./open";

export const person = (id: number, name: string) => ({
  id,
  name,
  mail: `${name.toLowerCase().replace(" ", ".")}@merrowby.example`,
  isOutside: false,
});
export const [bell, aske, vane] = [person(1, "Nora Bell"), person(2, "Tomas Aske"), person(3, "Idris Vane")] as const;
/** A plan that becomes void. */
export const emptyPlan: Schema["Plan"] = {
  fingerprint: "seen",
  changes: [],
  powers: [],
  cleared: [],
  opened: [],
  unaffected: [],
  visitsAffected: 0,
  sideEffects: [],
  confirmation: "undo-alone",
  needsSecond: null,
  loss: null,
  stopMinutes: null,
  manualTaskFor: null,
  fields: [],
  hiddenBorrowers: 0,
  address: null,
  advice: [],
};
export const plan: Schema["Plan"] = { ...emptyPlan, changes: [{ who: "Tomas Aske", from: null, to: "own" }] };
export const done = { place: 9, hostChange: null, offer: "o1", approval: null };
export const posts = (sent: Sent[]) => sent.filter((one) => one.call.startsWith("POST"));

/** A remark as the API gives it, by its sentence alone. */
export const remark = (sentence: string): Schema["Remark"] => ({ code: "as-recorded", parameters: {}, sentence });
