import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { BlockFields } from '../schema/kind.ts'
import { childrenOf } from '../schema/kinds.ts'
import { byWrittenKey, isRest } from '../schema/written-key.ts'

/** Makes what gives the order of the keys of the groups of a record, as their fields are declared. */
export function createKeyOrder(
  fields: Fields,
  blocks: BlockFields,
  record: Readonly<Record<string, unknown>> = {},
): (path: readonly PathSegment[]) => readonly string[] | undefined {
  const keysOf = (own: Fields): readonly string[] => [...byWrittenKey(mergedFields(own)).keys()]
  return (path) => {
    let level: Fields | undefined = fields
    let field: AnyField | undefined
    let value: unknown = record
    for (const step of path) {
      value = valueAt(value, [step])
      const item: AnyField | undefined = field && childrenOf(field).item
      field = item ?? (level && byWrittenKey(mergedFields(level)).get(String(step)))
      if (!field || isRest(field)) return undefined
      const { fields: inner, blocks: allowed } = childrenOf(field)
      const name = allowed && isGroup(value) ? String(value[allowed.key]) : undefined
      const ofBlock = name === undefined ? undefined : blocks.get(name)
      level = ofBlock && allowed ? { [allowed.key]: BLOCK_NAME, ...ofBlock } : inner
    }
    return level && keysOf(level)
  }
}

/** The key of a block comes first. */
const BLOCK_NAME: AnyField = { kind: 'text', options: {} }
