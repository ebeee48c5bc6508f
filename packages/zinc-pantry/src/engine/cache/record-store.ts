import { type Host, HostError, LEFT_OVER } from '../../host/host.ts'

/** Records by key, kept from run to run. What cannot be read, or is damaged, is simply not there. */
export interface RecordStore {
  /** The value of a key, as it was put. */
  get(key: string): unknown
  /** Keeps a value, given as JSON. */
  put(key: string, json: string): void
  /** Writes what was put. Nothing is lost where that fails but time. */
  save(): Promise<void>
}

/** So much is kept; beyond it only what the last run used. */
const MAX_BYTES = 256 * 2 ** 20
/** So many segments are put together to one. */
const MAX_SEGMENTS = 12
/** So much text is put into a segment at most: a text in memory has an end. */
const SEGMENT_LENGTH = 2 ** 20

const SEGMENT = /^[\da-f]{32}\.records$/
const NEW_LINE = 10
const KEY_LENGTH = 32
const CHECKSUM_LENGTH = 8
/** A line is a key, a checksum of the key and the JSON, and the JSON, with spaces between. */
const HEAD_LENGTH = KEY_LENGTH + 1 + CHECKSUM_LENGTH + 1

/** Where a record stands, in bytes. */
interface Place {
  readonly segment: string
  readonly start: number
  readonly end: number
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
  host: Host,
  folder: string,
  { isReadAgain }: { readonly isReadAgain: boolean },
): RecordStore {
  const writing = host.startWriting()
  const decoder = new TextDecoder()
  const encoder = new TextEncoder()
  const segments = new Map<string, Segment>()
  const places = new Map<string, Place>()
  /** Lines that are in no segment yet. */
  const added = new Map<string, string>()
  let addedLength = 0
  const used = new Set<string>()
  let isOpen = false
  let isChanged = false

  const open = (): void => {
    isOpen = true
    segments.clear()
    places.clear()
    const listed = host.list(folder)?.files ?? []
    for (const segment of listed.filter((name) => SEGMENT.test(name))) {
      const bytes = readBytes(host, `${folder}/${segment}`)
      if (!bytes) continue
      segments.set(segment, { size: bytes.length, bytes })
      let start = 0
      for (let end = bytes.indexOf(NEW_LINE); end !== -1; end = bytes.indexOf(NEW_LINE, start)) {
        if (end - start > HEAD_LENGTH)
          places.set(decoder.decode(bytes.subarray(start, start + KEY_LENGTH)), { segment, start, end })
        start = end + 1
      }
    }
  }
  const lineOf = (key: string): string | undefined => {
    const own = added.get(key)
    if (own !== undefined) return own
    const place = places.get(key)
    const segment = place && segments.get(place.segment)
    if (!segment) return undefined
    segment.bytes ??= readBytes(host, `${folder}/${place.segment}`)
    return segment.bytes && decoder.decode(segment.bytes.subarray(place.start, place.end))
  }
  const createLine = (key: string, json: string): string => `${key} ${host.checksum(json, key)} ${json}`
  const writeSegment = (lines: ReadonlyMap<string, string>): string => {
    const text = `${[...lines.values()].join('\n')}\n`
    // Keys and checksums say the content of a segment.
    const heads = Array.from(lines.values(), (line) => line.slice(0, HEAD_LENGTH))
    const segment = `${host.digest(heads.join(''))}.records`
    if (!segments.has(segment)) writing.write(`${folder}/${segment}`, text)
    if (!isReadAgain) {
      segments.set(segment, { size: text.length })
      return segment
    }
    let start = 0
    for (const [key, line] of lines) {
      const end = start + encoder.encode(line).length
      places.set(key, { segment, start, end })
      start = end + 1
    }
    segments.set(segment, { size: start })
    return segment
  }
  const flush = (): void => {
    if (added.size > 0) writeSegment(added)
    added.clear()
    addedLength = 0
    isChanged = true
  }
  /** Writes the records of some keys together, and removes all other segments. */
  const compact = async (keys: Iterable<string>): Promise<void> => {
    const kept = new Set<string>()
    let lines = new Map<string, string>()
    let length = 0
    const close = (): void => {
      if (lines.size > 0) kept.add(writeSegment(lines))
      lines = new Map()
      length = 0
    }
    for (const key of [...keys]) {
      const line = lineOf(key)
      if (line === undefined) continue
      lines.set(key, line)
      length += line.length
      if (length > SEGMENT_LENGTH) close()
    }
    close()
    const stale = [...segments.keys()].filter((name) => !kept.has(name))
    await writing.settled()
    for (const left of (host.list(folder)?.files ?? []).filter((name) => LEFT_OVER.test(name)))
      host.remove(`${folder}/${left}`)
    for (const segment of stale) {
      host.remove(`${folder}/${segment}`)
      segments.delete(segment)
    }
  }
  /** A full disk or a read-only folder costs time, later, and nothing else. */
  const forgive = (error: unknown): void => {
    if (!(error instanceof HostError)) throw error
  }

  return {
    get(key) {
      if (!isOpen) open()
      used.add(key)
      const line = lineOf(key)
      const json = line?.slice(HEAD_LENGTH)
      return json === undefined || line !== createLine(key, json) ? undefined : JSON.parse(json)
    },
    put(key, json) {
      if (!isOpen) open()
      used.add(key)
      const line = createLine(key, json)
      added.set(key, line)
      addedLength += line.length
      if (addedLength <= SEGMENT_LENGTH) return
      try {
        flush()
      } catch (error) {
        forgive(error)
      }
    },
    async save() {
      if (added.size === 0 && !isChanged) return
      try {
        host.write(`${folder}/.gitignore`, '*\n')
        flush()
        isChanged = false
        const size = [...segments.values()].reduce((sum, one) => sum + one.size, 0)
        const isLarge = size > MAX_BYTES
        const isMany = segments.size > MAX_SEGMENTS + size / SEGMENT_LENGTH
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

function readBytes(host: Host, file: string): Uint8Array | undefined {
  try {
    return host.read(file)
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}
