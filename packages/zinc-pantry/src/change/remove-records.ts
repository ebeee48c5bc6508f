import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import { entriesOf } from '../link/linked-entries.ts'
import type { PathSegment } from '../read/document.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Attention, ChangeStep } from './change.ts'
import { editValue } from './edit-value.ts'
import type { Rewritten } from './move-files.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'

/** Takes the records of a collection away: files that hold nothing else, and its part of those that do. */
export function removeRecords({ collections, model }: ChangeSubject, name: string, sourceOf: SourceOf): Rewritten {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const found = collections.find(({ collection }) => collection.name === name)
  const others = entriesOf({ collections }).filter(({ collection }) => collection !== name)
  const shared = new Set(others.map((entry) => entry.locate([]).file))
  const byFile = new Map<string, LinkedEntry>()
  for (const entry of found?.entries ?? []) {
    const { file } = entry.locate([])
    if (!('implicit' in entry.source) && file.startsWith(`${model.content}/`) && !byFile.has(file))
      byFile.set(file, entry)
  }
  for (const [file, entry] of byFile) {
    const { recordPath } = entry
    const path = found?.collection.single ? recordPath : recordPath.slice(0, -1)
    const source = path.length > 0 ? sourceOf(entry) : undefined
    if (!shared.has(file) && (!source || isAlone(source.document.value, path))) {
      steps.push({ kind: 'delete', file, reason: `it holds ${name} only` })
      continue
    }
    const edit = source && editValue(source, path, undefined, { isWhole: true })
    if (edit) steps.push({ kind: 'edit', file, ...edit, reason: `the records of ${name} go` })
    else attention.push({ place: entry.locate([]), words: `the records of ${name} are to be taken away by hand` })
  }
  return { steps, attention }
}

/** True where nothing stands beside a path. */
const isAlone = (value: unknown, path: readonly PathSegment[]): boolean =>
  path.every((_, at) => {
    const owner = valueAt(value, path.slice(0, at))
    return isGroup(owner) && Object.keys(owner).length === 1
  })
