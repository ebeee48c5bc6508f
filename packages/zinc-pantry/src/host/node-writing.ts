import { close, closeSync, openSync, renameSync, write, writeSync } from 'node:fs'
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

/**
 * Writes files in the background, each to a file beside its target that then takes its place. A file is opened at
 * once, so that what will not do at all is said at once.
 */
export function startNodeWriting({ prepare, explain }: WritingContext): Writing {
  const pending = new Set<Promise<void>>()
  let bytes = 0
  let failure: Error | undefined
  const finish = (file: number, { temporary, target }: { temporary: string; target: string }): void => {
    closeSync(file)
    renameSync(temporary, target)
  }
  return {
    write(path, text) {
      const content = Buffer.from(text)
      const { length } = content
      try {
        const target = prepare(path)
        const places = { target, temporary: `${target}.${process.pid}.tmp` }
        const file = openSync(places.temporary, 'w')
        if (bytes + length > MOST_BYTES || pending.size >= MOST_FILES) {
          writeAll(file, content, 0)
          finish(file, places)
          return length
        }
        bytes += length
        const done = new Promise<void>((resolve) => {
          write(file, content, 0, length, 0, (error, written) => {
            bytes -= length
            pending.delete(done)
            try {
              if (error) throw error
              writeAll(file, content, written)
              finish(file, places)
            } catch (problem) {
              failure ??= explain(problem)
              if (error) close(file)
            }
            resolve()
          })
        })
        pending.add(done)
        return length
      } catch (error) {
        throw explain(error)
      }
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

/** What is left of a content; a system may take less at once than it was given. */
function writeAll(file: number, content: Buffer, start: number): void {
  for (let at = start; at < content.length; ) at += writeSync(file, content, at, content.length - at, at)
}
