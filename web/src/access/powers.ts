import type { Schema } from "../api/client";

/** What a power lets people do, the weakest first. */
export const powers: { value: Schema["Power"]; can: string; includes: string }[] = [
  { value: "view", can: "view the published site", includes: "Reads what is published." },
  { value: "preview", can: "view the draft", includes: "Also reads what is not published yet." },
  { value: "edit", can: "edit it", includes: "Also changes the draft." },
  { value: "publish", can: "publish it", includes: "Also decides what visitors see." },
  { value: "invite", can: "invite people", includes: "Also lets others in." },
  { value: "manage", can: "manage it", includes: "Also changes its settings." },
  { value: "own", can: "own it", includes: "Answers for it." },
];
