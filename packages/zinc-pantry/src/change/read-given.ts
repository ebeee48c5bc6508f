import { setOwn } from '../diagnostics/own-key.ts'
import type { AnyField } from '../schema/any-field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { Children } from '../schema/kind.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { writtenKey } from '../schema/written-key.ts'
import { typeCells } from '../validate/type-cells.ts'
import type { Refusal } from './change.ts'
import { refuseName } from './refuse-name.ts'

/** A value that a person gave for a field, as text. */
export interface GivenText {
  /** The names of the field, from the entry inwards. */
  readonly path: readonly string[]
  readonly text: string
}

/** What a field holds, as far as it can be entered: fields by their names, or items by positions or keys. */
type Inside = Pick<Children, 'fields' | 'item'>

/** The key under which something stands, and its field; undefined where there is none that is written. */
function enter({ fields, item }: Inside, step: string): { readonly key: string; readonly field: AnyField } | undefined {
  if (item) return { key: step, field: item }
  const known = mergedFields(fields ?? {})
  const field = Object.hasOwn(known, step) ? known[step] : undefined
  return field && !kindOf(field).computed ? { key: writtenKey(step, field), field } : undefined
}

/** Values that were given as texts, as a record of a collection has them: by their keys, and with the types of their fields. */
export function readGiven(
  { fields, name }: CollectionModel,
  { blocks }: Pick<Model, 'blocks'>,
  texts: readonly GivenText[],
): { readonly given: Readonly<Record<string, unknown>> } | Refusal {
  const record: Record<string, unknown> = {}
  for (const { path, text } of texts) {
    let at: Record<string, unknown> = record
    let inside: Inside = { fields }
    for (const [depth, step] of path.entries()) {
      const found = enter(inside, step)
      if (!found) {
        const words = `${name} has no field "${path.join('.')}" that is written`
        return refuseName(words, step, Object.keys(inside.fields ?? {}))
      }
      const { key, field } = found
      inside = childrenOf(field)
      if (depth === path.length - 1) setOwn(at, key, text)
      else if (!Object.hasOwn(at, key)) setOwn(at, key, inside.item && field.kind === 'list' ? [] : {})
      at = at[key] as Record<string, unknown>
    }
  }
  const read = typeCells(record, fields, { listSeparator: ',', trim: true, blocks })
  return { given: read as Readonly<Record<string, unknown>> }
}
