import { createRecordLines, readLine } from './record-lines.ts'
import { openSegments, SEGMENT_SIZE } from './record-segments.ts'
import type { Storage } from './storage.ts'

/** Records by key, kept from run to run. What cannot be read, or is damaged, is simply not there. */
export interface RecordStore {
  /** The value of a key, as it was put. */
  get(key: string): unknown
  /** Keeps a value, given as JSON, which may come in pieces. */
  put(key: string, json: readonly string[]): void
  /** Writes what was put. Nothing is lost where that fails but time. */
  save(): Promise<void>
}

/** How records are kept. */
export interface StoreOptions {
  /** Records that were written will be read by the same process. */
  readonly isReread: boolean
  /** The number of bytes that are kept; beyond it only those that the last run used. Default: 256 MiB. */
  readonly maxBytes?: number
}

const MAX_BYTES = 256 * 2 ** 20

/** Opens the records of a folder. */
export function openRecordStore(
  storage: Storage,
  folder: string,
  { isReread, maxBytes = MAX_BYTES }: StoreOptions,
): RecordStore {
  const segments = openSegments(storage, folder, isReread)
  /** Lines that are in no segment yet. */
  const added = createRecordLines(storage)
  const used = new Set<string>()
  let isOpen = false
  let isChanged = false

  const open = (): void => {
    if (!isOpen) segments.list()
    isOpen = true
  }
  const lineOf = (key: string): Uint8Array | undefined => {
    const own = added.places.get(key)
    return own ? added.bytes().subarray(own.start, own.end) : segments.lineOf(key)
  }
  const flush = (): void => {
    isChanged = true
    try {
      if (added.size > 0) segments.write(added)
    } finally {
      added.clear()
    }
  }
  /** A full disk or a read-only folder costs time, later, and nothing else. */
  const forgive = (error: unknown): void => {
    if (!storage.isFault(error)) throw error
  }

  return {
    get(key) {
      open()
      used.add(key)
      const line = lineOf(key)
      return line && readLine(storage, key, line)
    },
    put(key, json) {
      open()
      used.add(key)
      added.add(key, json)
      if (added.size <= SEGMENT_SIZE) return
      try {
        flush()
      } catch (error) {
        forgive(error)
      }
    },
    async save() {
      if (added.size === 0 && !isChanged) return
      try {
        storage.write(`${folder}/.gitignore`, '*\n')
        flush()
        isChanged = false
        const isLarge = segments.size() > maxBytes
        const wanted = isLarge ? [...used] : undefined
        used.clear()
        await segments.settled()
        if (!isLarge && !segments.areMany()) return
        if (!isReread) segments.list()
        await segments.compact(wanted)
      } catch (error) {
        forgive(error)
      }
    },
  }
}
