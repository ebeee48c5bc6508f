import type { Storage } from './storage.ts'

const KEY_LENGTH = 32
const CHECKSUM_LENGTH = 8
/** A line is a key, a checksum of the key and the JSON, and the JSON, with spaces between. */
const HEAD_LENGTH = KEY_LENGTH + 1 + CHECKSUM_LENGTH + 1
const NEW_LINE = 10
/** A UTF-16 code unit takes so many bytes in UTF-8 at most. */
const MOST_BYTES = 3

/** An edit in a watch adds a few kilobytes, a cold build as much as it may. */
const FIRST_BYTES = 2 ** 14
/** Memory that is used again. A table of thousands of rows is one record, and the next may be small. */
const MOST_KEPT_BYTES = 2 ** 22

const encoder = new TextEncoder()
const decoder = new TextDecoder()

/** Where a line stands, in bytes, the end of the line left out. */
export interface LinePlace {
  readonly start: number
  readonly end: number
}

/** Records as lines in UTF-8. They are put together as bytes: a text of all would be copied several times. */
export interface RecordLines {
  readonly size: number
  /** The places of the lines, by key. */
  readonly places: ReadonlyMap<string, LinePlace>
  /** Adds a record, its JSON in pieces. */
  add(key: string, json: readonly string[]): void
  /** Adds a line that stands elsewhere. */
  copy(key: string, line: Uint8Array): void
  /** Keys and checksums, which say the content of all. */
  heads(): string
  /** The bytes as long as nothing else is done. */
  bytes(): Uint8Array
  /** Starts anew, in the same memory. */
  clear(): void
}

/** Starts to put lines together. */
export function createRecordLines(storage: Storage): RecordLines {
  let buffer = new Uint8Array(FIRST_BYTES)
  let size = 0
  const places = new Map<string, LinePlace>()
  const heads: string[] = []
  /** Makes the buffer large enough for so many bytes in all. */
  const reserve = (length: number): void => {
    if (length <= buffer.length) return
    const larger = new Uint8Array(Math.max(length, buffer.length * 2))
    larger.set(buffer)
    buffer = larger
  }
  const write = (text: string, at: number): number => at + encoder.encodeInto(text, buffer.subarray(at)).written
  const close = (key: string, head: string, end: number): void => {
    heads.push(head)
    places.set(key, { start: size, end })
    buffer[end] = NEW_LINE
    size = end + 1
  }
  return {
    get size() {
      return size
    },
    places,
    add(key, json) {
      const start = size + HEAD_LENGTH
      let end = start
      for (const piece of json) {
        reserve(end + piece.length * MOST_BYTES + 1)
        end = write(piece, end)
      }
      const head = headOf(storage, key, buffer.subarray(start, end))
      write(head, size)
      close(key, head, end)
    },
    copy(key, line) {
      reserve(size + line.length + 1)
      buffer.set(line, size)
      close(key, readHead(line), size + line.length)
    },
    heads: () => heads.join(''),
    bytes: () => buffer.subarray(0, size),
    clear() {
      if (buffer.length > MOST_KEPT_BYTES) buffer = new Uint8Array(FIRST_BYTES)
      size = 0
      places.clear()
      heads.length = 0
    },
  }
}

const readHead = (line: Uint8Array): string => decoder.decode(line.subarray(0, HEAD_LENGTH))

const headOf = (storage: Storage, key: string, json: Uint8Array): string => `${key} ${storage.checksum(json, key)} `

/** The value of a record; undefined where the line is damaged. */
export function readLine(storage: Storage, key: string, line: Uint8Array): unknown {
  const json = line.subarray(HEAD_LENGTH)
  if (readHead(line) !== headOf(storage, key, json)) return undefined
  return JSON.parse(decoder.decode(json))
}

/** The places of lines in what was written once, by key. */
export function* findLines(bytes: Uint8Array): Generator<[key: string, place: LinePlace]> {
  let start = 0
  for (let end = bytes.indexOf(NEW_LINE); end !== -1; end = bytes.indexOf(NEW_LINE, start)) {
    if (end - start > HEAD_LENGTH) yield [decoder.decode(bytes.subarray(start, start + KEY_LENGTH)), { start, end }]
    start = end + 1
  }
}
