import { groupBy } from '../diagnostics/group-by.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import { plainLabel } from '../link/plain-label.ts'
import type { PathSegment } from '../read/document.ts'
import { childrenOf } from '../schema/kinds.ts'
import { slugOf } from '../schema/slug.ts'
import type { Attention, ChangeStep } from './change.ts'
import type { EditedSource } from './edited-source.ts'
import { collectionLevel, type ModelSymbol } from './model-names.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { cellStyleOf, writeCell } from './write-cell.ts'
import { writeScalar } from './write-scalar.ts'
import { takeApart } from './written-fields.ts'

/** A label in a file, and where it stands; a cell may hold several. */
interface WrittenLabels {
  readonly source: EditedSource
  readonly path: readonly PathSegment[]
  readonly labels: readonly string[]
  readonly isCell: boolean
}

/** Finds the labels of a field in all files of its collection. */
export function findLabels(
  subject: ChangeSubject,
  { collection, symbol }: { readonly collection: string; readonly symbol: ModelSymbol },
  sourceOf: SourceOf,
): readonly WrittenLabels[] {
  const found = subject.collections.find((one) => one.collection.name === collection)
  const level = collectionLevel(subject.model, collection)
  if (!found || !level) return []
  return found.entries.flatMap((entry) => {
    const source = 'implicit' in entry.source ? undefined : sourceOf(entry)
    if (!source) return []
    const { recordPath: path } = entry
    const { fields } = takeApart(subject.model, level, { value: valueAt(source.document.value, path), path })
    return fields.flatMap(({ symbol: own, field, value, path: at, hasKey }): WrittenLabels[] => {
      // A cell stands for its items.
      if (own !== symbol || (source.format.hasCells && !hasKey) || typeof value !== 'string' || value.trim() === '')
        return []
      const isCell = childrenOf(field).item !== undefined
      if (isCell && !source.format.hasCells) return []
      const labels = isCell ? value.split(source.listSeparator).map((one) => one.trim()) : [value]
      return [{ source, path: at, labels, isCell }]
    })
  })
}

/** The ids that labels get: the same for those that are said to be the same. */
export function nameLabels(
  labels: readonly string[],
  same: ReadonlyMap<string, string>,
  transliterate: (text: string) => string,
): ReadonlyMap<string, string> {
  const ids = new Map<string, string>()
  const taken = new Set<string>()
  for (const label of labels) {
    if (same.has(label) || ids.has(label)) continue
    const plain = slugOf(transliterate(label)).replaceAll('/', '-')
    let id = plain
    for (let count = 2; taken.has(id); count++) id = `${plain}-${count}`
    taken.add(id)
    ids.set(label, id)
  }
  for (const [label, other] of same) ids.set(label, ids.get(other) ?? label)
  return ids
}

/** Labels that differ in nothing but their writing, and are not said to be the same. */
export function nearLabels(labels: readonly string[]): readonly (readonly string[])[] {
  return [...groupBy(labels, plainLabel).values()].filter((group) => group.length > 1)
}

/** Puts ids in the place of labels. */
export function replaceLabels(
  found: readonly WrittenLabels[],
  ids: ReadonlyMap<string, string>,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  // A single value in the place of a list is found twice.
  const places = new Map(found.map((one) => [`${one.source.file} ${one.path.join('\n')}`, one]))
  for (const { source, path, labels, isCell } of places.values()) {
    const span = source.document.locate(path, 'value')
    const written = source.text.slice(...span)
    const named = labels.map((label) => ids.get(label) ?? label)
    const { format, file } = source
    const text = isCell
      ? writeCell(named, written, cellStyleOf(source))
      : writeScalar(written, named[0] ?? '', format.name)
    if (text === written) continue
    if (text === undefined)
      attention.push({
        place: { file, span },
        words: `${labels.join(', ')} has to be ${named.join(', ')}, to be written by hand`,
      })
    else steps.push({ kind: 'edit', file, span, text, reason: `${labels.join(', ')} is ${named.join(', ')}` })
  }
  return { steps, attention }
}
