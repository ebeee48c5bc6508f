import { largest } from '../diagnostics/extremes.ts'
import type { Palette } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import { describeAccount } from '../engine/describe/describe-account.ts'
import type { FileAccount } from '../engine/file-account.ts'

/** Says what was done with a file, why, and what depends on it. */
export function renderAccount(account: FileAccount, { place, faint }: Palette): string {
  const { file, words, entries, isContent, dependents } = describeAccount(account)
  const lines = [words]
  if (entries.length > 0)
    lines.push(`Holds ${entries.length > 3 ? plural(entries.length, 'entry', 'entries') : entries.join(', ')}`)
  if (isContent) lines.push(dependents.length > 0 ? 'Looked at again when it changes:' : 'Nothing else depends on it')
  const width = largest(dependents, ({ entry }) => entry.length)
  const rows = dependents.map(({ entry, ways }) => `    ${entry.padEnd(width)}  ${faint(ways.join(', '))}`)
  return [place(file), ...lines.map((line) => `  ${line}`), ...rows, ''].join('\n')
}
