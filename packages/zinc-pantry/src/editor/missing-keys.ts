import { editValue } from '../change/edit-value.ts'
import { type EditedSource, type TextEdit, withEdits } from '../change/edited-source.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import { replaceSpans } from '../diagnostics/replace-spans.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import { writtenKey } from '../schema/written-key.ts'
import { isRequired } from './describe-field.ts'
import type { EditorSite } from './editor-site.ts'
import type { EditedDocument } from './look-at.ts'
import { readParts } from './written-parts.ts'

/** A key that must be there and is not. */
export interface MissingKey {
  readonly key: string
  readonly field: AnyField
  readonly path: readonly PathSegment[]
  /** The place at which it is told. */
  readonly span: Span
}

/** A document with what it lacks. */
export interface Lacking {
  readonly source: EditedSource
  readonly keys: readonly MissingKey[]
}

/** Finds the keys that a document lacks; undefined where it cannot be read. */
export function findMissingKeys(editorSite: EditorSite, { file, text }: EditedDocument): Lacking | undefined {
  const read = readParts(editorSite, { file, text })
  if (!read || read.format.hasCells) return undefined
  const { document, format, reading, records } = read
  const keys = records.flatMap(({ groups }) =>
    groups.flatMap(({ level, group, path }) =>
      Object.entries(level.fields).flatMap(([name, field]): MissingKey[] => {
        const key = writtenKey(name, field)
        if (!isRequired(field) || Object.hasOwn(group, key)) return []
        return [{ key, field, path: [...path, key], span: document.locate([...path, key], 'absent') }]
      }),
    ),
  )
  const { collection, options: readOptions } = reading
  const { listSeparator } = collection.cells
  return { source: { file, text, format, document, readOptions, listSeparator }, keys }
}

/** Writes keys without values, in the layout of the document; undefined where a person has to. */
export function addKeys({ source }: Lacking, keys: readonly MissingKey[]): TextEdit | undefined {
  let now = source
  for (const { field, path } of keys) {
    // What is still to be filled in must not pass for filled in.
    const value = field.kind === 'list' ? [] : source.format.name === 'toml' ? undefined : null
    const edit = value === undefined ? undefined : editValue(now, path, value)
    const next = edit && withEdits(now, [edit])
    if (!next) return undefined
    now = next
  }
  return smallestEdit(source.text, now.text)
}

/** The one edit that makes a text of another. */
function smallestEdit(before: string, after: string): TextEdit | undefined {
  let start = 0
  while (start < before.length && before[start] === after[start]) start++
  let behind = 0
  while (behind < Math.min(before.length, after.length) - start && before.at(-1 - behind) === after.at(-1 - behind))
    behind++
  const edit = { span: [start, before.length - behind] as const, text: after.slice(start, after.length - behind) }
  return replaceSpans(before, [edit], ({ text }) => text) === after ? edit : undefined
}
