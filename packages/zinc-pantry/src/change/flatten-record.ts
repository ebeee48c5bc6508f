import { isGroup } from '../diagnostics/own-key.ts'

/** The single values of a record, and its lists, by dotted names, as the headings of a table have them. */
export function flattenRecord(
  value: Readonly<Record<string, unknown>>,
  above: readonly string[] = [],
): ReadonlyMap<string, unknown> {
  return new Map(
    Object.entries(value).flatMap(([key, inner]): (readonly [string, unknown])[] => {
      const path = [...above, key]
      return isGroup(inner) ? [...flattenRecord(inner, path)] : [[path.join('.'), inner]]
    }),
  )
}
