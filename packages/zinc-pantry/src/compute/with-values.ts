type Values = Readonly<Record<string, unknown>>

/**
 * Values with others beside them. Not by a spread: keys behind one give each object a hidden class of its own in V8, which costs more
 * memory than the object.
 */
export const withValues = (values: Values, others: Iterable<readonly [name: string, value: unknown]>): Values =>
  Object.fromEntries([...Object.entries(values), ...others])
