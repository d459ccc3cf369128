import { ApiError, type Schema } from "../api/client";

/** What is wrong with the scope or the demand, and where. */
export function faultOf(error: Error | null): Schema["FilterProblem"] | null {
  if (!(error instanceof ApiError) || error.status !== 400) return null;
  const { part, column, message } = (error.body ?? {}) as Partial<Schema["FilterProblem"]>;
  return part !== undefined && column !== undefined && message !== undefined ? { part, column, message } : null;
}
