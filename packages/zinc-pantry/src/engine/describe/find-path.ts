import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { isGroup, valueAt } from '../../diagnostics/own-key.ts'
import type { PathSegment, ReadDocument } from '../../read/document.ts'

/**
 * Makes what finds the value of a record that a problem is of, by its place: the innermost one, and of what is missing where it would
 * stand. Undefined for a problem of no value of it.
 */
export function createPathFinder(
  document: ReadDocument,
  recordPath: readonly PathSegment[],
): (problem: Diagnostic) => readonly PathSegment[] | undefined {
  const find = (value: unknown, path: readonly PathSegment[], offset: number): readonly PathSegment[] | undefined => {
    const keys: readonly PathSegment[] = Array.isArray(value)
      ? [...value.keys()]
      : isGroup(value)
        ? Object.keys(value)
        : []
    const holder = keys.find((key) => {
      const own = [...recordPath, ...path, key]
      const [start] = document.locate(own, typeof key === 'number' ? 'value' : 'key')
      const [, end] = document.locate(own, 'value')
      return start <= offset && offset <= end
    })
    if (holder === undefined) return undefined
    const own = [...path, holder]
    return find((value as Readonly<Record<PathSegment, unknown>>)[holder], own, offset) ?? own
  }
  return ({ span: [offset], field, code }) => {
    const found = find(valueAt(document.value, recordPath), [], offset)
    const names = field?.split('.') ?? []
    if (code !== 'field-missing' || names.length === 0) return found ?? (names.length > 0 ? names : undefined)
    // The place is that of what should hold it.
    const above = (found ?? []).filter((step) => typeof step === 'string')
    const isAbove = above.length < names.length && above.every((step, at) => step === names[at])
    return isAbove ? [...(found ?? []), ...names.slice(above.length)] : names
  }
}
