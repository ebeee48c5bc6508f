import { execFile } from 'node:child_process'
import { basename, dirname } from 'node:path'
import type { FileHistory, Revision, VersionHistory } from './host.ts'

/** The output that is taken at most: that of some hundred thousand changes. */
const MOST_BYTES = 512 * 2 ** 20

/**
 * Asks the version control of a folder for the first and the last change of every file below it, in one question; undefined where there is
 * none.
 */
export async function readVersions(folder: string): Promise<VersionHistory | undefined> {
  const [log, shallow] = await Promise.all([
    ask(folder, ['log', '--relative', '--name-status', '-M', '-z', '--date=unix', '--format=%x01%ct', '--', '.']),
    ask(folder, ['rev-parse', '--is-shallow-repository']),
  ])
  if (log === undefined) return undefined
  return { files: readLog(log), isShallow: shallow?.trim() === 'true' }
}

/** The answer of git, or undefined where there is none, or nothing to answer of. */
const ask = (folder: string, question: readonly string[]): Promise<string | undefined> =>
  new Promise((resolve) => {
    const options = { cwd: folder, maxBuffer: MOST_BYTES, windowsHide: true }
    execFile('git', ['-c', 'log.showSignature=false', ...question], options, (error, answer) =>
      resolve(error ? undefined : answer),
    )
  })

/** Reads the changes of files, the newest first. A file that was renamed has the changes of its former names. */
function readLog(log: string): ReadonlyMap<string, FileHistory> {
  const files = new Map<string, { first: string; readonly last: string }>()
  /** The present names of files by those that they had at the change at hand; null for a file that began later. */
  const names = new Map<string, string | null>()
  for (const change of log.split('\u0001').slice(1)) {
    const [seconds = '', ...parts] = change.split('\0')
    const at = new Date(Number(seconds) * 1000).toISOString().replace('.000Z', 'Z')
    const touch = (path: string): string | null => {
      const name = names.has(path) ? (names.get(path) ?? null) : path
      if (name === null) return null
      const known = files.get(name)
      if (known) known.first = at
      else files.set(name, { first: at, last: at })
      return name
    }
    const words = parts.map((part) => part.replace(/^\n+/, '')).filter((part) => part !== '')
    for (let position = 0; position < words.length; ) {
      const status = words[position++] ?? ''
      const path = words[position++] ?? ''
      const isMove = /^[RC]/.test(status)
      const target = isMove ? (words[position++] ?? '') : path
      const name = touch(target)
      if (isMove && name !== null && status.startsWith('R')) names.set(path, name)
      // What was there before under this name was another file.
      if (isMove || status.startsWith('A')) names.set(target, null)
    }
  }
  return files
}

/** So many changes of a file are told. */
const MOST_REVISIONS = 50

/** The changes of a file, the newest first, also those under its former names; undefined where no version control has it. */
export async function readRevisions(file: string): Promise<readonly Revision[] | undefined> {
  const format = '--format=%H%x00%cI%x00%an%x00%s%x01'
  const question = ['log', '--follow', `--max-count=${MOST_REVISIONS}`, format, '--', basename(file)]
  const answer = await ask(dirname(file), question)
  return answer?.split('\u0001').flatMap((one) => {
    const [id, at = '', author = '', words = ''] = one.trim().split('\0')
    return id ? [{ id, at, author, words }] : []
  })
}

/** What a change did with a file. Nothing but the name of a change is asked for. */
export async function readPatch(file: string, revision: string): Promise<string | undefined> {
  if (!/^[\da-f]{7,64}$/.test(revision)) return undefined
  const answer = await ask(dirname(file), [
    'log',
    '--follow',
    '-p',
    '--format=%H%x01',
    '--no-color',
    '--',
    basename(file),
  ])
  const all = answer?.split(/^(?=[\da-f]{40,64}\u0001$)/m) ?? []
  const own = all.find((one) => one.startsWith(revision))
  return own?.slice(own.indexOf('\u0001') + 1).trim()
}
