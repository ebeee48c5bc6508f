import { type Host, HostError } from '../host/host.ts'

/** The text of a file that a person will be shown, or undefined where it cannot be read. */
export function readText(host: Host, file: string): string | undefined {
  try {
    return new TextDecoder().decode(host.read(file))
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}
