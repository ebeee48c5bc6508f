import { appendAll } from '../diagnostics/append-all.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { childrenOf } from '../schema/kinds.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Attention, ChangeStep } from './change.ts'
import type { EditedSource } from './edited-source.ts'
import { choiceSymbol, collectionLevel } from './model-names.ts'
import { renameInBody } from './rename-in-body.ts'
import { renameKeys } from './rename-keys.ts'
import type { SymbolRenaming } from './rename-names.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { writeItem, writeScalar } from './write-scalar.ts'
import { takeApart, type WrittenField } from './written-fields.ts'

/** What is to be written in another way in one file of data. */
interface FileNames {
  readonly source: EditedSource
  readonly keys: (readonly PathSegment[])[]
  readonly values: Map<
    string,
    { readonly path: readonly PathSegment[]; readonly item?: string; readonly separator: string }
  >
}

/** The renaming of fields, of values of choices and of blocks in all that is written for them. */
export function renameInContent(
  subject: ChangeSubject,
  renaming: SymbolRenaming,
  sourceOf: SourceOf,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const files = new Map<string, FileNames>()
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  for (const { collection, entries } of subject.collections) {
    const level = collectionLevel(subject.model, collection.name)
    for (const entry of entries) {
      if ('implicit' in entry.source || !level) continue
      const source = sourceOf(entry)
      if (source) {
        const { file } = source
        const names = files.get(file) ?? { source, keys: [], values: new Map() }
        files.set(file, names)
        collectNames(subject, { entry, names, renaming, separator: collection.cells.listSeparator })
      }
      const inBody = renameInBody(subject, entry, renaming)
      appendAll(steps, inBody.steps)
      appendAll(attention, inBody.attention)
    }
  }
  for (const names of files.values()) {
    const edited = editFile(names, renaming.name)
    appendAll(steps, edited.steps)
    appendAll(attention, edited.attention)
  }
  return { steps, attention }
}

interface Collecting {
  readonly entry: LinkedEntry
  readonly names: FileNames
  readonly renaming: SymbolRenaming
  readonly separator: string
}

/** Where an entry names what is renamed, in its data. */
function collectNames(
  { model }: ChangeSubject,
  { entry, names: { source, keys, values }, renaming: { symbols }, separator }: Collecting,
): void {
  const level = collectionLevel(model, entry.collection)
  if (!level) return
  const { recordPath: path } = entry
  const parts = takeApart(model, level, { value: valueAt(source.document.value, path), path })
  const note = (at: readonly PathSegment[], item?: string): void =>
    void values.set(JSON.stringify(at), { path: at, separator, ...(item === undefined ? {} : { item }) })
  for (const one of parts.fields) {
    if (one.hasKey && symbols.has(one.symbol) && one.field.options.writtenAs === undefined) keys.push(one.path)
    for (const word of wordsIn(one, separator)) {
      if (!symbols.has(choiceSymbol(one.symbol, word.text))) continue
      if (word.isKey) keys.push([...one.path, word.text])
      else note(one.path, word.isItem ? word.text : undefined)
    }
  }
  for (const { symbol, path: at } of parts.blocks) if (symbols.has(symbol)) note(at)
}

interface Word {
  readonly text: string
  readonly isKey?: boolean
  /** True for one of several in a cell. */
  readonly isItem?: boolean
}

/** The texts that a value may have of a choice. */
function wordsIn({ field, value }: Pick<WrittenField, 'field' | 'value'>, separator: string): readonly Word[] {
  const { item, keys, alternatives } = childrenOf(field)
  if (keys && isGroup(value)) return Object.keys(value).map((text) => ({ text, isKey: true }))
  if (typeof value !== 'string' || alternatives) return []
  if (!item) return [{ text: value }]
  return value.includes(separator) ? value.split(separator).map((text) => ({ text: text.trim(), isItem: true })) : []
}

function editFile(
  { source, keys, values }: FileNames,
  name: string,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const { file, text, format, document } = source
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const byHand = (path: readonly PathSegment[]): void => {
    const place = { file, span: document.locate(path, 'key') }
    attention.push({ place, words: `${path.join('.')} has to be renamed by hand` })
  }
  const renamed = keys.length > 0 ? renameKeys(source, keys, name) : []
  if (!renamed) for (const path of keys) byHand(path)
  for (const edit of renamed ?? []) steps.push({ kind: 'edit', file, ...edit, reason: `the key is ${name}` })
  for (const { path, item, separator } of values.values()) {
    const span = document.locate(path, 'value')
    const written = text.slice(...span)
    const value =
      item === undefined ? writeScalar(written, name, format.name) : writeItem(written, { item, text: name, separator })
    if (value === undefined) byHand(path)
    else steps.push({ kind: 'edit', file, span, text: value, reason: `the value is ${name}` })
  }
  return { steps, attention }
}
