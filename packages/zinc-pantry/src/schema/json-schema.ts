/** A JSON Schema 2020-12, or a part of one. */
export type JsonSchema = { readonly [keyword: string]: unknown }

/** An object without the keys that have no value. */
export const defined = (keywords: JsonSchema): JsonSchema =>
  Object.fromEntries(Object.entries(keywords).filter(([, value]) => value !== undefined))
