import { type Host, HostError } from '../host/host.ts'

/** The text of a file that a person will be shown, or undefined where it cannot be read or is no text. */
export function readText(host: Host, file: string): string | undefined {
  try {
    const bytes = host.read(file)
    return bytes.includes(0) ? undefined : new TextDecoder().decode(bytes)
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}
