import type { Contents } from '../change/contents.ts'
import { type Host, LEFT_OVER } from '../host/host.ts'
import { JOURNAL } from './configuration-file.ts'
import { readBytes, readText } from './read-text.ts'

/**
 * The last change, in a folder beside the cache, so that one that was killed is made whole at the next start, and one that is made
 * can be undone. `journal.json` says what it is; contents stand beside it, by the position of their file, before and after:
 *
 * `{"state":"made","words":"huts/gable becomes huts/crag","files":[{"file":"content/huts/gable.yaml","before":"9f…","after":null}]}`
 */
interface Journal {
  /** `begun` once all contents are kept, `made` once all files have theirs. */
  readonly state: 'begun' | 'made'
  readonly words: string
  /** True for one that takes another back, and is not to be undone itself. */
  readonly isUndo?: boolean
  readonly files: readonly JournalFile[]
}

interface JournalFile {
  /** Relative to the site's root. */
  readonly file: string
  /** Digests of its contents; null where it is not there. */
  readonly before: string | null
  readonly after: string | null
}

const FOLDER = JOURNAL.slice(0, JOURNAL.lastIndexOf('/'))

/** The outcome of a change of files: made, or the files that somebody else changed in the meantime. */
export type Applied = { readonly words: string } | { readonly changed: readonly string[] }

/** Writes a change: all of it or nothing, over files that are still those it was made from. `before` are their contents. */
export async function applyContents(
  host: Host,
  {
    words,
    before,
    after,
    isUndo = false,
  }: { readonly words: string; readonly before: Contents; readonly after: Contents; readonly isUndo?: boolean },
): Promise<Applied> {
  const files = [...after].map(([file, bytes]): JournalFile => {
    return { file, before: digestOf(host, before.get(file)), after: digestOf(host, bytes) }
  })
  const changed = files.filter((one) => digestNow(host, one.file) !== one.before).map(({ file }) => file)
  if (changed.length > 0) return { changed }
  // From here on the change before this one cannot be undone any more.
  host.remove(JOURNAL)
  const writing = host.startWriting()
  writing.write(`${FOLDER}/.gitignore`, '*\n')
  for (const [at, { file }] of files.entries()) {
    const [old, fresh] = [before.get(file), after.get(file)]
    if (old) writing.write(`${FOLDER}/before-${at}`, old)
    if (fresh) writing.write(`${FOLDER}/after-${at}`, fresh)
  }
  await writing.settled()
  const journal: Journal = { state: 'begun', words, files, ...(isUndo ? { isUndo } : {}) }
  writeJournal(host, journal)
  await complete(host, journal)
  return { words }
}

/** A change that was killed, and whether it could be made whole. */
export interface Recovered {
  readonly words: string
  readonly isWhole: boolean
}

/** Makes a change whole that was begun and killed; not where what it was to write is gone. */
export async function recoverChange(host: Host): Promise<Recovered | undefined> {
  const journal = readJournal(host)
  if (journal?.state !== 'begun') return undefined
  removeLeftOver(host, journal)
  const isWhole = hasContents(host, journal, 'after')
  if (isWhole) await complete(host, journal)
  else host.remove(JOURNAL)
  return { words: journal.words, isWhole }
}

/** True where all that a change writes is still kept. */
const hasContents = (host: Host, { files }: Journal, kind: 'before' | 'after'): boolean =>
  files.every((one, at) => one[kind] === null || host.size(`${FOLDER}/${kind}-${at}`) !== undefined)

/** Takes the last change back, as long as nobody touched its files. Undefined where there is none. */
export async function undoChange(host: Host): Promise<Applied | undefined> {
  const journal = readJournal(host)
  if (!journal || !hasContents(host, journal, 'before') || !hasContents(host, journal, 'after')) return undefined
  const contents = (kind: 'before' | 'after'): Contents =>
    new Map(
      journal.files.map((one, at) => [one.file, one[kind] === null ? undefined : host.read(`${FOLDER}/${kind}-${at}`)]),
    )
  return applyContents(host, {
    ...{ words: journal.words, isUndo: true },
    ...{ before: contents('after'), after: contents('before') },
  })
}

/** Removes what was being written in the place of files when a process was killed. */
function removeLeftOver(host: Host, { files }: Journal): void {
  const written = new Set(files.map(({ file }) => file))
  const folders = new Set(files.map(({ file }) => file.slice(0, Math.max(0, file.indexOf('/')))))
  for (const folder of folders)
    for (const path of host.list(folder)?.files ?? []) {
      const file = `${folder}/${path}`
      if (LEFT_OVER.test(file) && written.has(file.replace(LEFT_OVER, ''))) host.remove(file)
    }
}

/** Gives every file what it is to hold, but for those that somebody else changed. */
async function complete(host: Host, journal: Journal): Promise<void> {
  const writing = host.startWriting()
  for (const [at, { file, before, after }] of journal.files.entries()) {
    if (digestNow(host, file) !== before) continue
    if (after === null) host.remove(file)
    else writing.write(file, host.read(`${FOLDER}/after-${at}`))
  }
  await writing.settled()
  if (journal.isUndo) host.remove(JOURNAL)
  else writeJournal(host, { ...journal, state: 'made' })
}

const digestOf = (host: Host, bytes: Uint8Array | undefined): string | null => (bytes ? host.digest(bytes) : null)

const digestNow = (host: Host, file: string): string | null => digestOf(host, readBytes(host, file))

const writeJournal = (host: Host, journal: Journal): void => host.write(JOURNAL, `${JSON.stringify(journal)}\n`)

function readJournal(host: Host): Journal | undefined {
  if (host.size(JOURNAL) === undefined) return undefined
  try {
    const value = JSON.parse(readText(host, JOURNAL) ?? '') as Journal
    return Array.isArray(value.files) ? value : undefined
  } catch {
    return undefined
  }
}
