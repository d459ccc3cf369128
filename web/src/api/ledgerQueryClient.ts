import { QueryClient, type InvalidateOptions, type InvalidateQueryFilters, type QueryKey } from "@tanstack/react-query";
import { isRefused } from "./touched";

/** Asks again for everything that is shown, after an action, except for what was refused; a named question is always asked. */
export class LedgerQueryClient extends QueryClient {
  override invalidateQueries<Key extends QueryKey = QueryKey>(
    filters?: InvalidateQueryFilters<Key>,
    options?: InvalidateOptions,
  ): Promise<void> {
    if (filters?.queryKey) return super.invalidateQueries(filters, options);
    return super.invalidateQueries<Key>(
      {
        ...filters,
        predicate: (query) => !isRefused(query.state.error) && (filters?.predicate?.(query) ?? true),
      },
      options,
    );
  }
}
