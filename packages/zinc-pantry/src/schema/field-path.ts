import { KEYS_STEP } from '../values/steps.ts'
import type { AnyField } from './any-field.ts'
import type { Step } from './check-run.ts'
import type { Fields } from './field.ts'
import { mergedFields } from './fields/variant.ts'
import type { BlockFields } from './kind.ts'
import { childrenOf } from './kinds.ts'

/** The fields below a field: of a group, or of all blocks that it allows. */
export function fieldsBelow(field: AnyField | undefined, blocks: BlockFields): Fields | undefined {
  const { fields, blocks: own, alternatives } = field ? childrenOf(field) : {}
  if (fields) return mergedFields(fields)
  if (alternatives) return Object.assign({}, ...alternatives.map((one) => fieldsBelow(one, blocks) ?? {}).reverse())
  return own && Object.assign({}, ...own.names.map((name) => mergedFields(blocks.get(name) ?? {})))
}

/** The item of a list or a map, or of one that may stand there; undefined for another field. */
export function itemOf(field: AnyField | undefined): AnyField | undefined {
  const { item, alternatives = [] } = field ? childrenOf(field) : {}
  return item ?? alternatives.map(itemOf).find((one) => one !== undefined)
}

/** The innermost item of lists and maps, however deep they are nested. */
function innermost(field: AnyField | undefined): AnyField | undefined {
  const item = itemOf(field)
  return item ? innermost(item) : field
}

/** The keys of a map, or of the maps in lists. */
function keysIn(field: AnyField | undefined): AnyField | undefined {
  const { keys, item, alternatives = [] } = field ? childrenOf(field) : {}
  return keys ?? (item && keysIn(item)) ?? alternatives.map(keysIn).find((one) => one !== undefined)
}

/** The field at a path of names, lists and maps entered in silence; of a list what it holds. */
export function fieldAt(fields: Fields, path: readonly string[], blocks: BlockFields): AnyField | undefined {
  let level: Fields | undefined = mergedFields(fields)
  let whole: AnyField | undefined
  let found: AnyField | undefined
  for (const name of path) {
    if (name === KEYS_STEP) {
      found = keysIn(whole)
      level = undefined
      continue
    }
    whole = level && Object.hasOwn(level, name) ? level[name] : undefined
    found = innermost(whole)
    level = fieldsBelow(found, blocks)
  }
  return found
}

/**
 * A path into an entry in the way that settings write it: names of fields with dots, positions and keys of maps left
 * out.
 */
export function dottedPath(path: readonly Step[], fields: Fields, blocks: BlockFields): string {
  const names: string[] = []
  let level: Fields | undefined = mergedFields(fields)
  let at: AnyField | undefined
  for (const step of path) {
    if (step === KEYS_STEP) {
      names.push(KEYS_STEP)
      continue
    }
    const item = itemOf(at)
    if (item) {
      at = item
      continue
    }
    if (at) level = fieldsBelow(at, blocks)
    names.push(String(step))
    at = level && Object.hasOwn(level, step) ? level[step] : undefined
  }
  return names.join('.')
}
