/** Wrong use of a query, such as the name of a field that does not exist. */
export class QueryError extends Error {
  override readonly name = 'QueryError'
}

/** The error that there is no such thing, with those that there are. */
export const describeUnknown = (thing: string, known: readonly string[]): QueryError =>
  new QueryError(`There is no ${thing}; there ${known.length > 0 ? `are ${known.join(', ')}` : 'is none'}`)
