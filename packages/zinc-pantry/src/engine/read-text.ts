import type { TextSource } from '../diagnostics/render-text.ts'
import { type Host, HostError } from '../host/host.ts'

/** Gives the texts of files: those that are known, and others as they are when they are first asked for. */
export function createTextSource(host: Host, known: Map<string, string> = new Map()): TextSource {
  return (file) => {
    const text = known.get(file) ?? readText(host, file)
    if (text !== undefined) known.set(file, text)
    return text
  }
}

/** The text of a file that a person will be shown, or undefined where it cannot be read or is no text. */
export function readText(host: Host, file: string): string | undefined {
  const bytes = readBytes(host, file)
  return !bytes || bytes.includes(0) ? undefined : new TextDecoder().decode(bytes)
}

/** The bytes of a file, or undefined where it cannot be read. */
export function readBytes(host: Host, file: string): Uint8Array | undefined {
  try {
    return host.read(file)
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}
