import type { FieldNotes } from '../query/open-site.ts'
import type { AnyField } from '../schema/any-field.ts'
import { visibleFields } from '../schema/fields/variant.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'

/**
 * The notes of fields for people and pages, by path; names are joined with dots, lists and maps
 * entered in silence. Fields of which it says nothing are left out, as are private ones.
 */
export function collectNotes(collection: CollectionModel): Record<string, FieldNotes> {
  return Object.fromEntries(
    Object.entries(visibleFields(allFields(collection))).flatMap(([name, field]) => notesOf(field, [name])),
  )
}

function notesOf(field: AnyField, path: readonly string[]): [string, FieldNotes][] {
  const { options } = field
  const { item, fields = {}, alternatives = [] } = childrenOf(field)
  const labels = kindOf(field).words?.(field).labels
  if (options.private) return []
  const { label, description, hints } = options
  const own = {
    ...(label === undefined ? {} : { label }),
    ...(description === undefined ? {} : { description }),
    ...(labels === undefined ? {} : { labels }),
    ...(hints === undefined ? {} : { hints }),
  }
  const inner = item
    ? notesOf(item, path)
    : [
        ...alternatives.flatMap((one) => notesOf(one, path)),
        ...Object.entries(visibleFields(fields)).flatMap(([name, part]) => notesOf(part, [...path, name])),
      ]
  return Object.keys(own).length > 0
    ? [[path.join('.'), own], ...inner.filter(([name]) => name !== path.join('.'))]
    : inner
}
