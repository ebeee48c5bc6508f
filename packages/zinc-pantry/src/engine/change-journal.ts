import type { Contents } from '../change/contents.ts'
import { type Host, LEFT_OVER } from '../host/host.ts'
import { JOURNAL } from './configuration-file.ts'
import { createContentReader, type KeptContent, packContents } from './kept-contents.ts'
import { readBytes, readText } from './read-text.ts'

/**
 * The last change, in a folder beside the cache, so that one that was killed is made whole at the next start, and one that is made
 * can be undone. `journal.json` says what it is; contents before and after it stand beside it, many in a file:
 *
 * `{"state":"made","words":"huts/gable becomes huts/crag","files":[{"file":"content/huts/gable.yaml",
 *   "before":{"digest":"9f…","pack":".pantry/change/before-0","start":0,"end":120},"after":null}]}`
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
  /** Its contents; null where it is not there. */
  readonly before: KeptContent | null
  readonly after: KeptContent | null
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
  const kept = {
    before: packContents(before, host.digest, `${FOLDER}/before`),
    after: packContents(after, host.digest, `${FOLDER}/after`),
  }
  const placeOf = (kind: 'before' | 'after', file: string): KeptContent | null => kept[kind].places.get(file) ?? null
  const files = [...after.keys()].map((file): JournalFile => {
    return { file, before: placeOf('before', file), after: placeOf('after', file) }
  })
  const changed = files.filter((one) => !isNow(host, one.file, one.before)).map(({ file }) => file)
  if (changed.length > 0) return { changed }
  // From here on the change before this one cannot be undone any more.
  host.remove(JOURNAL)
  for (const name of host.list(FOLDER)?.files ?? []) host.remove(`${FOLDER}/${name}`)
  const writing = host.startWriting()
  writing.write(`${FOLDER}/.gitignore`, '*\n')
  for (const { packs } of [kept.before, kept.after]) for (const [name, bytes] of packs) writing.write(name, bytes)
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
  const isWhole = contentsOf(host, journal, 'after') !== undefined
  if (isWhole) await complete(host, journal)
  else host.remove(JOURNAL)
  return { words: journal.words, isWhole }
}

/** The contents that a change had made, or found; undefined where they are not all there as they were. */
function contentsOf(host: Host, { files }: Journal, kind: 'before' | 'after'): Contents | undefined {
  const read = createContentReader(host)
  const contents = new Map(files.map(({ file, [kind]: kept }) => [file, kept ? read(kept) : undefined]))
  return files.every(({ file, [kind]: kept }) => !kept || contents.get(file)) ? contents : undefined
}

/** Takes the last change back, as long as nobody touched its files. Undefined where there is none. */
export async function undoChange(host: Host): Promise<Applied | undefined> {
  const journal = readJournal(host)
  const [before, after] = [
    journal && contentsOf(host, journal, 'after'),
    journal && contentsOf(host, journal, 'before'),
  ]
  return journal && before && after && applyContents(host, { words: journal.words, isUndo: true, before, after })
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
  const read = createContentReader(host)
  for (const { file, before, after } of journal.files) {
    if (!isNow(host, file, before)) continue
    const bytes = after && read(after)
    if (bytes) writing.write(file, bytes)
    else if (!after) host.remove(file)
  }
  await writing.settled()
  const left = journal.files.flatMap(({ file, after }) =>
    after ? [] : [file.slice(0, Math.max(0, file.lastIndexOf('/')))],
  )
  for (const folder of new Set(left)) host.removeEmptyFolders?.(folder)
  if (journal.isUndo) host.remove(JOURNAL)
  else writeJournal(host, { ...journal, state: 'made' })
}

/** True where a file holds what is kept, or is not there either. */
function isNow(host: Host, file: string, kept: KeptContent | null): boolean {
  const bytes = readBytes(host, file)
  return bytes && kept ? host.digest(bytes) === kept.digest : !bytes && !kept
}

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
