import { isGroup } from '../diagnostics/own-key.ts'
import type { AnyField } from './any-field.ts'
import type { Step } from './check-run.ts'
import type { Fields } from './field.ts'
import { mergedFields } from './fields/variant.ts'
import type { BlockFields } from './kind.ts'
import { childrenOf } from './kinds.ts'
import { byWrittenKey, isRest, writtenKey } from './written-key.ts'

/** Gives the path of a part of an entry as it stands in a file, from that in the entry; `value` is the written one. */
export type WrittenPath = (path: readonly Step[], value: unknown) => readonly Step[]

/**
 * Makes what gives the written path of parts of some fields; undefined where all that is written stands where the entry
 * has it.
 */
export function createWrittenPath(fields: Fields, blocks: BlockFields): WrittenPath | undefined {
  if (!differs(fields, blocks)) return undefined
  return (path, value) => {
    const written: Step[] = []
    let level: Fields | undefined = mergedFields(fields)
    let field: AnyField | undefined
    let at = value
    for (const step of path) {
      field = field && alternativeOf(field, at)
      const item: AnyField | undefined = field && childrenOf(field).item
      // A single value in the place of a list, and the keys of a group itself, are steps that no file has.
      let key: Step | undefined = step
      if (item) {
        if (field?.kind === 'list' && !Array.isArray(at)) key = undefined
        field = item
      } else {
        if (field) level = fieldsBelow(field, at, blocks)
        field = level && Object.hasOwn(level, step) ? level[step] : undefined
        if (field) key = isRest(field) ? undefined : writtenKey(String(step), field)
      }
      if (key === undefined) continue
      written.push(key)
      at = isGroup(at) || Array.isArray(at) ? (at as Readonly<Record<Step, unknown>>)[key] : undefined
    }
    return written
  }
}

/** Of the fields that a value may be of the one that has what it is: a list, or a group with its keys. */
function alternativeOf(field: AnyField, value: unknown): AnyField {
  const { alternatives } = childrenOf(field)
  if (!alternatives) return field
  const all = alternatives.map((one) => alternativeOf(one, value))
  const lists = all.filter(({ kind }) => kind === 'list')
  if (Array.isArray(value)) return lists[0] ?? field
  const groups = isGroup(value) ? all.filter((one) => one.kind !== 'list' && hasInside(one)) : []
  const likeness = (one: AnyField): number => {
    const known = byWrittenKey(mergedFields(childrenOf(one).fields ?? {}))
    return Object.keys(value as object).filter((key) => known.has(key)).length
  }
  return groups.sort((a, b) => likeness(b) - likeness(a))[0] ?? lists[0] ?? field
}

const hasInside = (field: AnyField): boolean => Object.values(childrenOf(field)).some((inside) => inside !== undefined)

function fieldsBelow(field: AnyField, value: unknown, blocks: BlockFields): Fields | undefined {
  const { fields, blocks: own } = childrenOf(field)
  if (fields) return mergedFields(fields)
  const name = own && isGroup(value) ? String(value[own.key]) : undefined
  return name === undefined ? undefined : mergedFields(blocks.get(name) ?? {})
}

/** True where a value can stand elsewhere in a file than in the entry. */
function differs(fields: Fields, blocks: BlockFields, seen: ReadonlySet<string> = new Set()): boolean {
  const isMoved = (field: AnyField): boolean => {
    if (field.options.writtenAs !== undefined || isRest(field)) return true
    if (field.kind === 'list' && field.options.orOne === true) return true
    const { item, fields: own, blocks: allowed, alternatives } = childrenOf(field)
    if (item && isMoved(item)) return true
    if (alternatives?.some(isMoved)) return true
    if (own && differs(own, blocks, seen)) return true
    return (allowed?.names ?? []).some(
      (name) => !seen.has(name) && differs(blocks.get(name) ?? {}, blocks, new Set([...seen, name])),
    )
  }
  return Object.values(mergedFields(fields)).some(isMoved)
}
