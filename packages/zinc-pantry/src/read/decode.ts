import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'

const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: false })

/** Largest file that is read, in megabytes of 2^20 bytes. */
const MAX_FILE_MEGABYTES = 32

/** The same in bytes. */
export const MAX_FILE_BYTES = MAX_FILE_MEGABYTES * 2 ** 20

/** Says that a file is too large to be read; it need not be read for that. */
export const describeTooLarge = (file: string, sizeBytes: number): Diagnostic =>
  createDiagnostic(
    'file-too-large',
    { file, span: [0, 0] },
    { megabytes: Math.ceil(sizeBytes / 2 ** 20), limit: MAX_FILE_MEGABYTES },
  )

/**
 * Decodes a file's bytes as UTF-8 and drops a byte order mark. Bytes that are not UTF-8 give a
 * `text-encoding` diagnostic at the first of them, a file too large to read `file-too-large`.
 */
export function decodeText(file: string, bytes: Uint8Array): { text: string } | { diagnostic: Diagnostic } {
  if (bytes.length > MAX_FILE_BYTES) return { diagnostic: describeTooLarge(file, bytes.length) }
  try {
    return { text: decoder.decode(bytes) }
  } catch {
    return { diagnostic: describeEncoding(file, bytes) }
  }
}

/** The byte order mark of a file, where it has one: it is no part of the text, and stays with the file. */
export const byteOrderMark = (bytes: Uint8Array): string =>
  bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? '\ufeff' : ''

function describeEncoding(file: string, bytes: Uint8Array): Diagnostic {
  const first = bytes[0]
  const second = bytes[1]
  if ((first === 0xff && second === 0xfe) || (first === 0xfe && second === 0xff))
    return createDiagnostic('text-encoding', { file, span: [0, 1] }, { encoding: 'it looks like UTF-16' })
  const { offset, byte } = firstInvalid(bytes)
  const encoding = `byte 0x${byte.toString(16).padStart(2, '0').toUpperCase()} fits nowhere`
  return createDiagnostic('text-encoding', { file, span: [offset, offset + 1] }, { encoding })
}

/** Halves the range until the shortest prefix that does not decode is found. */
function firstInvalid(bytes: Uint8Array): { offset: number; byte: number } {
  const decodes = (length: number): boolean => {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, length), { stream: true })
      return true
    } catch {
      return false
    }
  }
  let good = 0
  let bad = bytes.length + 1
  while (bad - good > 1) {
    const middle = (good + bad) >> 1
    if (decodes(middle)) good = middle
    else bad = middle
  }
  // The byte that does not fit may come after the start of a character, which is then the wrong one.
  const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes.subarray(0, good), { stream: true })
  const start = new TextEncoder().encode(text).length
  const mark = text.startsWith('\ufeff') ? 1 : 0
  return { offset: text.length - mark, byte: bytes[start] ?? 0 }
}
