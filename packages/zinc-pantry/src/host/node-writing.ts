import { randomInt } from 'node:crypto'
import { closeSync, open, renameSync, rmSync, write, writeFileSync } from 'node:fs'
import { promisify } from 'node:util'
import type { Writing } from './host.ts'

/** The number of bytes that may wait to be written. */
const MOST_BYTES = 32 * 2 ** 20
/** The number of files that are open at once; the others wait. */
const LANES = 8

/** How a target is made ready, and how a failure is told. */
export interface WritingContext {
  /** Gives the absolute path of a file, whose folder is made. */
  prepare(file: string): string
  /** Does something; what it throws is explained to a person. */
  explained<Result>(action: () => Result): Result
}

/** A file that is written, and the one whose place it takes. */
interface Places {
  readonly temporary: string
  readonly target: string
}

/** Writes files in the background, each to a file beside its target that then takes its place. */
export function startNodeWriting({ prepare, explained }: WritingContext): Writing {
  // Two builds in one process can write the same file at the same time.
  const ending = `.${randomInt(2 ** 47)}.tmp`
  /** Files are written one after another in each. */
  const lanes = Array.from({ length: LANES }, () => Promise.resolve())
  let files = 0
  let bytes = 0
  let failure: unknown
  return {
    write(path, given) {
      const content = typeof given === 'string' ? Buffer.from(given) : given
      const { length } = content
      const target = explained(() => prepare(path))
      const places = { target, temporary: target + ending }
      if (bytes + length > MOST_BYTES) {
        explained(() => replaceFile(places, () => writeFileSync(places.temporary, content)))
        return length
      }
      bytes += length
      const lane = files++ % LANES
      lanes[lane] = (lanes[lane] as Promise<void>)
        .then(() => replaceLater(places, content))
        .catch((error) => {
          failure ??= error
        })
        .finally(() => {
          bytes -= length
        })
      return length
    },
    drain: () => new Promise((resolve) => setImmediate(resolve)),
    async settled() {
      await Promise.all(lanes)
      const problem = failure
      failure = undefined
      explained(() => {
        if (problem) throw problem
      })
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

const openLater = promisify(open)
const writeLater = promisify(write)

/**
 * The same as {@link replaceFile} while other work goes on: what takes long, which is to make a file and to fill it, is
 * left to other threads. The rest takes no longer than to hand it on would.
 */
async function replaceLater({ temporary, target }: Places, content: Uint8Array): Promise<void> {
  try {
    const file = await openLater(temporary, 'w')
    try {
      // A system may take less at once than it was given.
      for (let at = 0; at < content.length; )
        at += (await writeLater(file, content, at, content.length - at, at)).bytesWritten
    } finally {
      closeSync(file)
    }
    renameSync(temporary, target)
  } catch (error) {
    rmSync(temporary, { force: true })
    throw error
  }
}
