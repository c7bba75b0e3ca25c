import { type InvalidateOptions, type InvalidateQueryFilters, QueryClient, type QueryKey } from "@tanstack/react-query";

/**
 * What is told while something is asked for the first time holds for that too: the answer may have been made before.
 * The library itself asks again only what had an answer already, and takes the first one for fresh.
 */
export class FreshClient extends QueryClient {
  override async invalidateQueries<Key extends QueryKey = QueryKey>(
    filters?: InvalidateQueryFilters<Key>,
    options?: InvalidateOptions,
  ): Promise<void> {
    const first = this.getQueryCache()
      .findAll(filters)
      .filter(({ state }) => state.fetchStatus === "fetching" && state.data === undefined);
    const again = first.map(async ({ promise, queryKey }) => {
      await promise?.catch(() => undefined);
      return super.invalidateQueries({ refetchType: filters?.refetchType, queryKey, exact: true }, options);
    });
    await Promise.all([super.invalidateQueries(filters, options), ...again]);
  }
}
