import { createRecordLines, findLines, type LinePlace, type RecordLines } from './record-lines.ts'
import type { Storage } from './storage.ts'

/** The number of segments above which they are compacted. */
const MAX_SEGMENTS = 12
/** The size of a segment in bytes, about. */
export const SEGMENT_SIZE = 2 ** 20

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

/** The segments of a folder, and the places of records in them. */
export interface RecordSegments {
  /** Looks for segments and for the records in them anew. */
  list(): void
  /** The bytes of a record. */
  lineOf(key: string): Uint8Array | undefined
  /** Starts to write a copy of lines as a segment, and gives its name. */
  write(lines: RecordLines): string
  /** Waits until all is written. */
  settled(): Promise<void>
  /** The number of bytes of all segments. */
  size(): number
  /** True where there are more segments than so many bytes ask for. */
  areMany(): boolean
  /** Writes the records of some keys together, and removes all other segments. Default: all keys. */
  compact(keys?: Iterable<string>): Promise<void>
}

/**
 * Opens segments: files of lines, never changed once written, each named by a digest of what it holds. So builds at once,
 * or one that is killed, cannot damage what others read. Where they are read again, the places of what is written are kept.
 */
export function openSegments(storage: Storage, folder: string, isReread: boolean): RecordSegments {
  const writing = storage.startWriting()
  const segments = new Map<string, Segment>()
  const places = new Map<string, Place>()
  const size = (): number => [...segments.values()].reduce((sum, one) => sum + one.size, 0)
  const own: RecordSegments = {
    size,
    settled: () => writing.settled(),
    areMany: () => segments.size > MAX_SEGMENTS + size() / SEGMENT_SIZE,
    list() {
      segments.clear()
      places.clear()
      const listed = storage.list(folder)?.files ?? []
      for (const segment of listed.filter((name) => SEGMENT.test(name))) {
        const bytes = readBytes(storage, `${folder}/${segment}`)
        if (!bytes) continue
        segments.set(segment, { size: bytes.length, bytes })
        for (const [key, place] of findLines(bytes)) places.set(key, { segment, ...place })
      }
    },
    lineOf(key) {
      const place = places.get(key)
      const segment = place && segments.get(place.segment)
      if (!segment) return undefined
      segment.bytes ??= readBytes(storage, `${folder}/${place.segment}`)
      return segment.bytes?.subarray(place.start, place.end)
    },
    write(lines) {
      const segment = `${storage.digest(lines.heads())}.records`
      if (!segments.has(segment)) writing.write(`${folder}/${segment}`, lines.bytes().slice())
      segments.set(segment, { size: lines.size })
      if (isReread) for (const [key, place] of lines.places) places.set(key, { segment, ...place })
      return segment
    },
    async compact(keys = places.keys()) {
      const kept = new Set<string>()
      const lines = createRecordLines(storage)
      const close = (): void => {
        if (lines.size > 0) kept.add(own.write(lines))
        lines.clear()
      }
      for (const key of [...keys]) {
        const line = own.lineOf(key)
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
    },
  }
  return own
}

function readBytes(storage: Storage, file: string): Uint8Array | undefined {
  try {
    return storage.read(file)
  } catch (error) {
    if (storage.isFault(error)) return undefined
    throw error
  }
}
