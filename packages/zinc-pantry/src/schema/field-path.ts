import type { AnyField } from './any-field.ts'
import type { Step } from './check-run.ts'
import type { Fields } from './field.ts'
import { mergedFields } from './fields/variant.ts'
import type { BlockFields } from './kind.ts'
import { childrenOf } from './kinds.ts'

/** The fields below a field: of a group, or of all blocks that it allows. */
function fieldsBelow(field: AnyField | undefined, blocks: BlockFields): Fields | undefined {
  const { fields, blocks: own } = field ? childrenOf(field) : {}
  if (fields) return mergedFields(fields)
  return own && Object.assign({}, ...own.names.map((name) => mergedFields(blocks.get(name) ?? {})))
}

/** The item of a list or a map; undefined for another field. */
const itemOf = (field: AnyField | undefined): AnyField | undefined => field && childrenOf(field).item

/** The innermost item of lists and maps, however deep they are nested. */
function innermost(field: AnyField | undefined): AnyField | undefined {
  const item = itemOf(field)
  return item ? innermost(item) : field
}

/** The field at a path of names, lists and maps entered in silence; of a list what it holds. */
export function fieldAt(fields: Fields, path: readonly string[], blocks: BlockFields): AnyField | undefined {
  let level: Fields | undefined = mergedFields(fields)
  let found: AnyField | undefined
  for (const name of path) {
    found = innermost(level && Object.hasOwn(level, name) ? level[name] : undefined)
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
