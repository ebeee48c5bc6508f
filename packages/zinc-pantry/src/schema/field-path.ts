import type { BlockFields, Field, Fields, Step } from './field.ts'
import { mergedFields } from './fields/variant.ts'

/** The fields below a field: of a group, or of all blocks that it allows. */
function fieldsBelow(field: Field | undefined, blocks: BlockFields): Fields | undefined {
  if (field?.fields) return mergedFields(field.fields)
  if (field?.kind !== 'block') return undefined
  return Object.assign({}, ...(field.blocks ?? []).map((name) => mergedFields(blocks.get(name) ?? {})))
}

/** What a list or a map holds, however deep they are nested. */
function innermost(field: Field | undefined): Field | undefined {
  let at = field
  while (at?.kind === 'list' || at?.kind === 'map') at = at.item
  return at
}

/** The field at a path of names, lists and maps entered in silence; of a list what it holds. */
export function fieldAt(fields: Fields, path: readonly string[], blocks: BlockFields): Field | undefined {
  let level: Fields | undefined = mergedFields(fields)
  let found: Field | undefined
  for (const name of path) {
    found = innermost(level && Object.hasOwn(level, name) ? level[name] : undefined)
    level = fieldsBelow(found, blocks)
  }
  return found
}

/** A path into an entry in the way that settings write it: names of fields with dots, positions and keys of maps left out. */
export function dottedPath(path: readonly Step[], fields: Fields, blocks: BlockFields): string {
  const names: string[] = []
  let level: Fields | undefined = mergedFields(fields)
  let at: Field | undefined
  for (const step of path) {
    if (at?.kind === 'list' || at?.kind === 'map') {
      at = at.item
      continue
    }
    if (at) level = fieldsBelow(at, blocks)
    names.push(String(step))
    at = level && Object.hasOwn(level, step) ? level[step] : undefined
  }
  return names.join('.')
}
