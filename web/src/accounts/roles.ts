import type { Schema } from "../api/client";

export const roles: Record<Schema["Role"], string> = {
  administrator: "administrator",
  steward: "steward",
  owner: "owner of sites",
  auditor: "auditor",
};
