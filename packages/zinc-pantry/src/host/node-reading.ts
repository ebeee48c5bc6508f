import { closeSync, constants, fstatSync, openSync, readFileSync, readSync, type Stats } from 'node:fs'
import { HostError, type StampedFile } from './host.ts'
import { stampOf } from './node-listing.ts'

// A pipe is opened at once, instead of waiting for somebody who writes into it.
const FLAGS = constants.O_RDONLY | (constants.O_NONBLOCK ?? 0)

/** Reads a file, or only its first bytes. What is no file is not read. */
export const readBytes = (path: string, maxBytes = Number.POSITIVE_INFINITY): Uint8Array =>
  withFile(path, (file, { size }) => (size <= maxBytes ? readWhole(file, size) : readStart(file, maxBytes)))

/** Reads a file of at most so many bytes, and says the state that it was in. */
export const readStamped = (path: string, maxBytes: number): StampedFile =>
  withFile(path, (file, found) => {
    // The state comes first: what is written meanwhile is another state.
    const stamp = stampOf(found)
    const bytes = found.size <= maxBytes ? readWhole(file, found.size) : undefined
    return { stamp, sizeBytes: found.size, bytes }
  })

function withFile<Result>(path: string, read: (file: number, found: Stats) => Result): Result {
  const file = openSync(path, FLAGS)
  try {
    const found = fstatSync(file)
    if (found.isDirectory()) throw new HostError('it is a folder')
    if (!found.isFile()) throw new HostError('it is no file')
    return read(file, found)
  } finally {
    closeSync(file)
  }
}

/** Some file systems say of files that they are empty, and give bytes all the same. */
const readWhole = (file: number, size: number): Uint8Array => (size > 0 ? readStart(file, size) : readFileSync(file))

function readStart(file: number, size: number): Uint8Array {
  const bytes = Buffer.allocUnsafe(size)
  let length = 0
  for (let count = -1; length < size && count !== 0; length += count)
    count = readSync(file, bytes, length, size - length, null)
  return length === size ? bytes : bytes.subarray(0, length)
}
