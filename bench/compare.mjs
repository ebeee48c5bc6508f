import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { median } from './record.mjs'

/** What benches keep, from the root of the repository on. */
export const CACHE = 'node_modules/.cache/bench'

const run = (script, ...args) => execFileSync(process.execPath, [join('bench', script), ...args], { encoding: 'utf8' })

/** Makes a corpus once; a whole one has links that lead somewhere. */
export function corpusOf(count, kind, isWhole) {
  const folder = join(CACHE, `${isWhole ? 'whole' : 'corpus'}-${kind}-${count}`)
  if (existsSync(folder)) return folder
  run('generate-corpus.mjs', String(count), folder, '1', kind)
  if (isWhole) run('mend-links.mjs', folder)
  if (kind === 'mdx') {
    mkdirSync(join(folder, 'notes/components'), { recursive: true })
    writeFileSync(join(folder, 'notes/components/note.js'), 'export const Note = () => null\n')
  }
  return folder
}

/** Runs a script in a process of its own and gives the record on its last line. */
export const measure = (script, ...args) =>
  JSON.parse(
    run(script, ...args)
      .trim()
      .split('\n')
      .at(-1),
  )

/** Measures two things by turns and gives the medians and that of the ratios. */
export function compareRounds(times, ours, theirs) {
  const rounds = Array.from({ length: times }, () => {
    const other = theirs()
    const own = ours()
    return { own, other, ratio: own.ms / other.ms }
  })
  return {
    own: median(rounds.map(({ own }) => own.ms)),
    other: median(rounds.map(({ other }) => other.ms)),
    ratio: median(rounds.map(({ ratio }) => ratio)).toFixed(2),
    peak: Math.max(...rounds.map(({ own }) => own.peakRssMB)),
    record: rounds[0].own,
  }
}
