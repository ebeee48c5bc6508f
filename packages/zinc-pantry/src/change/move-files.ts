import { locateProperty } from '../body/body-summary.ts'
import type { Place } from '../diagnostics/diagnostic.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import { entriesOf } from '../link/linked-entries.ts'
import { qualifiedId } from '../link/pages.ts'
import { resolveFrom } from '../link/resolve-path.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Attention, ChangeStep } from './change.ts'
import { createLinkWriter, type LinkedAfter } from './create-link-writer.ts'
import { blockLevel, collectionLevel } from './model-names.ts'
import { relativePath } from './rename-path.ts'
import { rewriteLinks } from './rewrite-links.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { writeProperty, writeScalar } from './write-scalar.ts'
import { takeApart } from './written-fields.ts'

/** Files get other paths, relative to the content folder: what names them names them still. */
export function moveFiles(
  subject: ChangeSubject,
  moves: ReadonlyMap<string, string>,
  { sourceOf, after }: { readonly sourceOf: SourceOf; readonly after?: Partial<LinkedAfter> },
): Rewritten {
  const { content } = subject.model
  const steps = [...moves].map(([file, to]): ChangeStep => {
    return { kind: 'move', file: `${content}/${file}`, to: `${content}/${to}`, reason: `it is ${to}` }
  })
  const rewritten = rewritePaths(
    subject,
    { ...UNCHANGED, fileAfter: (file) => moves.get(file) ?? file, ...after },
    sourceOf,
  )
  return { steps: [...steps, ...rewritten.steps], attention: rewritten.attention }
}

const UNCHANGED: LinkedAfter = { fileAfter: (file) => file, nameAfter: qualifiedId, addressAfter: () => undefined }

/** Steps, and places where a person has to take them. */
export interface Rewritten {
  readonly steps: readonly ChangeStep[]
  readonly attention: readonly Attention[]
}

/** Rewrites the paths and links of all entries for where things are after a change. */
export function rewritePaths(subject: ChangeSubject, after: LinkedAfter, sourceOf: SourceOf): Rewritten {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  for (const entry of entriesOf(subject)) {
    const from = qualifiedId(entry)
    for (const { place, path, written } of namedFiles(subject, entry, sourceOf)) {
      const text = pathAfter(path, entry, after)
      if (text === path) continue
      const value = written(text)
      if (value === undefined) attention.push({ place, words: `${from} has to name ${text}, to be written by hand` })
      else steps.push({ kind: 'edit', ...place, text: value, reason: `${from} names ${text}` })
    }
    for (const { place, text } of rewriteLinks(subject, entry, createLinkWriter(subject, entry, after)))
      steps.push({ kind: 'edit', ...place, text, reason: `${from} links to ${text}` })
  }
  return { steps, attention }
}

/** A path in an entry after files moved, written as it was: from the content folder, or from the file of the entry. */
function pathAfter(path: string, entry: LinkedEntry, { fileAfter }: LinkedAfter): string {
  const { file: from } = entry.source
  const file = resolveFrom(path.startsWith('/') ? '' : from, path)
  if (file === undefined) return path
  const after = fileAfter(file)
  if (path.startsWith('/')) return after === file ? path : `/${after}`
  const fromAfter = fileAfter(from, entry)
  const plain = relativePath(fromAfter, after)
  return after === file && fromAfter === from
    ? path
    : (path.startsWith('./') && !plain.startsWith('.') ? './' : '') + plain
}

/** A field that names a file, and what writes another path in its place. */
interface NamedFile {
  readonly place: Place
  readonly path: string
  written(path: string): string | undefined
}

function namedFiles({ model }: ChangeSubject, entry: LinkedEntry, sourceOf: SourceOf): readonly NamedFile[] {
  const level = collectionLevel(model, entry.collection)
  const source = sourceOf(entry)
  const found: NamedFile[] = []
  if (source && level) {
    const { file, text, document, format } = source
    const { recordPath: path } = entry
    const { fields } = takeApart(model, level, { value: valueAt(document.value, path), path })
    for (const { field, value, path: at } of fields) {
      if (field.kind !== 'image' && field.kind !== 'file') continue
      const inner = isGroup(value) ? [...at, 'file'] : at
      const named = isGroup(value) ? value.file : value
      const span = document.locate(inner, 'value')
      if (typeof named === 'string')
        found.push({
          place: { file, span },
          path: named,
          written: (to) => writeScalar(text.slice(...span), to, format.name),
        })
    }
  }
  const { body } = entry
  for (const use of body?.summary.uses ?? []) {
    const block = use.block === undefined ? undefined : blockLevel(model, use.block)
    for (const [name, field] of Object.entries(block?.fields ?? {})) {
      const value = use.values[writtenKey(name, field)]
      if (!body || (field.kind !== 'image' && field.kind !== 'file') || typeof value !== 'string') continue
      const [start, end] = locateProperty(use, writtenKey(name, field), 'value')
      const span = [start + body.startOffset, end + body.startOffset] as const
      found.push({ place: { file: body.file, span }, path: value, written: writeProperty })
    }
  }
  return found
}
