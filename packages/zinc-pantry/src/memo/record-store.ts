import { createRecordLines, findLines, type LinePlace, type RecordLines, readLine } from './record-lines.ts'
import type { Storage } from './storage.ts'

/** Records by key, kept from run to run. What cannot be read, or is damaged, is simply not there. */
export interface RecordStore {
  /** The value of a key, as it was put. */
  get(key: string): unknown
  /** Keeps a value, given as JSON, which may come in pieces. */
  put(key: string, ...json: string[]): void
  /** Writes what was put. Nothing is lost where that fails but time. */
  save(): Promise<void>
}

/** How records are kept. */
export interface StoreOptions {
  /** Records that were written will be read by the same process. */
  readonly isReadAgain: boolean
  /** The number of bytes that are kept; beyond it only those that the last run used. Default: 256 MiB. */
  readonly maxBytes?: number
}

const MAX_BYTES = 256 * 2 ** 20
/** The number of segments above which they are compacted. */
const MAX_SEGMENTS = 12
/** The size of a segment in bytes, about. */
const SEGMENT_SIZE = 2 ** 20

const SEGMENT = /^[\da-f]{32}\.records$/

/** Where a record stands. */
interface Place extends LinePlace {
  readonly segment: string
}

/** A file of records; its bytes are read when they are needed. */
interface Segment {
  readonly size: number
  bytes?: Uint8Array | undefined
}

/**
 * Opens the records of a folder: segments of lines, never changed once written, each named by a digest of what it
 * holds. So builds at once, or one that is killed, cannot damage what others read.
 */
export function openRecordStore(
  storage: Storage,
  folder: string,
  { isReadAgain, maxBytes = MAX_BYTES }: StoreOptions,
): RecordStore {
  const writing = storage.startWriting()
  const segments = new Map<string, Segment>()
  const places = new Map<string, Place>()
  /** Lines that are in no segment yet. */
  let added: RecordLines | undefined
  const used = new Set<string>()
  let isOpen = false
  let isChanged = false

  const open = (): void => {
    isOpen = true
    segments.clear()
    places.clear()
    const listed = storage.list(folder)?.files ?? []
    for (const segment of listed.filter((name) => SEGMENT.test(name))) {
      const bytes = readBytes(storage, `${folder}/${segment}`)
      if (!bytes) continue
      segments.set(segment, { size: bytes.length, bytes })
      for (const [key, place] of findLines(bytes)) places.set(key, { segment, ...place })
    }
  }
  const lineOf = (key: string): Uint8Array | undefined => {
    const own = added?.places.get(key)
    if (own) return added?.bytes().subarray(own.start, own.end)
    const place = places.get(key)
    const segment = place && segments.get(place.segment)
    if (!segment) return undefined
    segment.bytes ??= readBytes(storage, `${folder}/${place.segment}`)
    return segment.bytes?.subarray(place.start, place.end)
  }
  const writeSegment = (lines: RecordLines): string => {
    const segment = `${storage.digest(lines.heads())}.records`
    if (!segments.has(segment)) writing.write(`${folder}/${segment}`, lines.bytes())
    segments.set(segment, { size: lines.size })
    if (isReadAgain) for (const [key, place] of lines.places) places.set(key, { segment, ...place })
    return segment
  }
  const flush = (): void => {
    const lines = added
    added = undefined
    isChanged = true
    if (lines) writeSegment(lines)
  }
  /** Writes the records of some keys together, and removes all other segments. */
  const compact = async (keys: Iterable<string>): Promise<void> => {
    const kept = new Set<string>()
    let lines = createRecordLines(storage)
    const close = (): void => {
      if (lines.size > 0) kept.add(writeSegment(lines))
      lines = createRecordLines(storage)
    }
    for (const key of [...keys]) {
      const line = lineOf(key)
      if (!line) continue
      lines.copy(key, line)
      if (lines.size > SEGMENT_SIZE) close()
    }
    close()
    const stale = [...segments.keys()].filter((name) => !kept.has(name))
    await writing.settled()
    for (const left of (storage.list(folder)?.files ?? []).filter(storage.isLeftOver))
      storage.remove(`${folder}/${left}`)
    for (const segment of stale) {
      storage.remove(`${folder}/${segment}`)
      segments.delete(segment)
    }
  }
  /** A full disk or a read-only folder costs time, later, and nothing else. */
  const forgive = (error: unknown): void => {
    if (!storage.isFault(error)) throw error
  }

  return {
    get(key) {
      if (!isOpen) open()
      used.add(key)
      const line = lineOf(key)
      return line && readLine(storage, key, line)
    },
    put(key, ...json) {
      if (!isOpen) open()
      used.add(key)
      added ??= createRecordLines(storage)
      added.add(key, json)
      if (added.size <= SEGMENT_SIZE) return
      try {
        flush()
      } catch (error) {
        forgive(error)
      }
    },
    async save() {
      if (!added && !isChanged) return
      try {
        storage.write(`${folder}/.gitignore`, '*\n')
        flush()
        isChanged = false
        const size = [...segments.values()].reduce((sum, one) => sum + one.size, 0)
        const isLarge = size > maxBytes
        const isMany = segments.size > MAX_SEGMENTS + size / SEGMENT_SIZE
        const wanted = isLarge ? [...used] : undefined
        used.clear()
        await writing.settled()
        if (!isLarge && !isMany) return
        if (!isReadAgain) open()
        await compact(wanted ?? places.keys())
      } catch (error) {
        forgive(error)
      }
    },
  }
}

function readBytes(storage: Storage, file: string): Uint8Array | undefined {
  try {
    return storage.read(file)
  } catch (error) {
    if (storage.isFault(error)) return undefined
    throw error
  }
}
