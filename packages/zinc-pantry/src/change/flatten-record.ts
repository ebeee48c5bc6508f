import { isGroup } from '../diagnostics/own-key.ts'

/**
 * The single values of a record, and its lists, by dotted names, as the headings of a table have them. Groups are taken as they are
 * where they are not to be entered.
 */
export function flattenRecord(
  value: Readonly<Record<string, unknown>>,
  isEntered: (name: string) => boolean = () => true,
  above: readonly string[] = [],
): ReadonlyMap<string, unknown> {
  return new Map(
    Object.entries(value).flatMap(([key, inner]): (readonly [string, unknown])[] => {
      const path = [...above, key]
      const name = path.join('.')
      return isGroup(inner) && isEntered(name) ? [...flattenRecord(inner, isEntered, path)] : [[name, inner]]
    }),
  )
}
