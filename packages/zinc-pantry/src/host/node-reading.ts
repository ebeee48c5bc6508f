import { closeSync, constants, fstatSync, openSync, readFileSync, readSync } from 'node:fs'
import { HostError } from './host.ts'

// A pipe is opened at once, instead of waiting for somebody who writes into it.
const FLAGS = constants.O_RDONLY | (constants.O_NONBLOCK ?? 0)

/** Reads a file, or only its first bytes. What is no file is not read. */
export function readBytes(path: string, maxBytes?: number): Uint8Array {
  const file = openSync(path, FLAGS)
  try {
    const found = fstatSync(file)
    if (found.isDirectory()) throw new HostError('it is a folder')
    if (!found.isFile()) throw new HostError('it is no file')
    if (maxBytes === undefined || found.size <= maxBytes) return readFileSync(file)
    const bytes = new Uint8Array(maxBytes)
    return bytes.subarray(0, readSync(file, bytes, 0, maxBytes, 0))
  } finally {
    closeSync(file)
  }
}
