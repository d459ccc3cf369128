import type { Wire } from "../api/client";

export const roles: Record<Wire["Role"], string> = {
  administrator: "administrator",
  steward: "steward",
  owner: "owner of sites",
  auditor: "auditor",
};
