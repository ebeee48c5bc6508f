import type { FieldNotes } from '../query/open-site.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { visibleFields } from '../schema/fields/variant.ts'
import { readHints } from '../schema/hints.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'

/**
 * The notes of fields for people and pages, by path; names are joined with dots, lists and maps
 * entered in silence. The empty path is the collection itself. Fields of which it says nothing are left out, as are private ones.
 */
export function collectNotes(collection: CollectionModel, hints: Fields): Record<string, FieldNotes> {
  const { description, section } = collection
  const own = { ...(section === undefined ? {} : { section }), ...(description === undefined ? {} : { description }) }
  return Object.fromEntries([
    ...(Object.keys(own).length > 0 ? [['', own] as const] : []),
    ...Object.entries(visibleFields(allFields(collection))).flatMap(([name, field]) => notesOf(field, [name], hints)),
  ])
}

function notesOf(field: AnyField, path: readonly string[], declared: Fields): [string, FieldNotes][] {
  const { options } = field
  const { item, fields = {}, alternatives = [] } = childrenOf(field)
  const labels = kindOf(field).words?.(field).labels
  if (options.private) return []
  const { label, description, section } = options
  const hints = hintsOf(field, declared)
  const own = {
    ...(label === undefined ? {} : { label }),
    ...(description === undefined ? {} : { description }),
    ...(section === undefined ? {} : { section }),
    ...(labels === undefined ? {} : { labels }),
    ...(hints === undefined ? {} : { hints }),
  }
  const inner = item
    ? notesOf(item, path, declared)
    : [
        ...alternatives.flatMap((one) => notesOf(one, path, declared)),
        ...Object.entries(visibleFields(fields)).flatMap(([name, part]) => notesOf(part, [...path, name], declared)),
      ]
  return Object.keys(own).length > 0
    ? [[path.join('.'), own], ...inner.filter(([name]) => name !== path.join('.'))]
    : inner
}

/** The hints of a field, with the defaults of those that the site declares. */
function hintsOf(field: AnyField, declared: Fields): FieldNotes['hints'] {
  if (Object.keys(declared).length === 0) return field.options.hints
  const read = readHints(field, declared)
  return 'hints' in read ? read.hints : undefined
}
