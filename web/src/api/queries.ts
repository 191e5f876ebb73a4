import { QueryClient, type InvalidateOptions, type InvalidateQueryFilters, type QueryKey } from '@tanstack/react-query'

/**
 * Asks the server, and asks again what is no longer true. An answer that was on its way when it became untrue may tell
 * of the time before: it is taken for what it is worth, and asked for once more.
 */
export class Queries extends QueryClient {
  readonly #again = new Set<string>()

  constructor(...given: ConstructorParameters<typeof QueryClient>) {
    super(...given)
    this.getQueryCache().subscribe((event) => {
      if (event.type === 'removed') this.#again.delete(event.query.queryHash)
      if (event.type !== 'updated' || event.query.state.fetchStatus === 'fetching') return
      if (this.#again.delete(event.query.queryHash))
        void super.invalidateQueries({ queryKey: event.query.queryKey as QueryKey, exact: true })
    })
  }

  /** What is being asked is not interrupted: if it became untrue more often than it is answered, nothing would come. */
  override invalidateQueries<T extends QueryKey = QueryKey>(
    filters?: InvalidateQueryFilters<T>,
    options?: InvalidateOptions,
  ): Promise<void> {
    for (const query of this.getQueryCache().findAll(filters as InvalidateQueryFilters))
      if (query.state.fetchStatus === 'fetching') this.#again.add(query.queryHash)
    return super.invalidateQueries<T>(filters, { cancelRefetch: false, ...options })
  }
}
