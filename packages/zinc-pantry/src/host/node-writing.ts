import { randomInt } from 'node:crypto'
import { closeSync, openSync, renameSync, rmSync, write, writeSync } from 'node:fs'
import type { Writing } from './host.ts'

/** So many bytes, and files, may wait to be written. */
const MOST_BYTES = 32 * 2 ** 20
const MOST_FILES = 128

/** How a target is made ready, and what is said of a failure. */
export interface WritingContext {
  /** Gives the absolute path of a file, whose folder is made. */
  prepare(file: string): string
  explain(error: unknown): Error
}

/** A file that is written, and the one whose place it takes. */
interface Places {
  readonly temporary: string
  readonly target: string
}

/**
 * Writes files in the background, each to a file beside its target that then takes its place. A file is opened at
 * once, so that what will not do at all is said at once.
 */
export function startNodeWriting({ prepare, explain }: WritingContext): Writing {
  // Two builds in one process can write the same file at the same time.
  const ending = `.${randomInt(2 ** 47)}.tmp`
  const pending = new Set<Promise<void>>()
  let bytes = 0
  let failure: unknown
  /** Writes what is left, if that is to be, and puts the file in its place. */
  const finish = (file: number, places: Places, complete: () => void): void => {
    try {
      replaceFile(places, () => {
        try {
          complete()
        } finally {
          closeSync(file)
        }
      })
    } catch (error) {
      throw explain(error)
    }
  }
  const open = (path: string): Places & { readonly file: number } => {
    try {
      const target = prepare(path)
      const temporary = target + ending
      return { target, temporary, file: openSync(temporary, 'w') }
    } catch (error) {
      throw explain(error)
    }
  }
  return {
    write(path, text) {
      const content = Buffer.from(text)
      const { length } = content
      const { file, ...places } = open(path)
      if (bytes + length > MOST_BYTES || pending.size >= MOST_FILES) {
        finish(file, places, () => writeFrom(file, content, 0))
        return length
      }
      bytes += length
      const done = new Promise<void>((resolve) => {
        write(file, content, 0, length, 0, (error, written) => {
          bytes -= length
          pending.delete(done)
          try {
            finish(file, places, () => {
              if (error) throw error
              writeFrom(file, content, written)
            })
          } catch (problem) {
            failure ??= problem
          }
          resolve()
        })
      })
      pending.add(done)
      return length
    },
    turn: () => new Promise((resolve) => setImmediate(resolve)),
    async settled() {
      await Promise.all(pending)
      const problem = failure
      failure = undefined
      if (problem) throw problem
    },
  }
}

/** Puts a file in the place of another once it is written; where that fails nothing is left of it. */
export function replaceFile({ temporary, target }: Places, write: () => void): void {
  try {
    write()
    renameSync(temporary, target)
  } catch (error) {
    rmSync(temporary, { force: true })
    throw error
  }
}

/** What is left of a content; a system may take less at once than it was given. */
function writeFrom(file: number, content: Buffer, start: number): void {
  for (let at = start; at < content.length; ) at += writeSync(file, content, at, content.length - at, at)
}
