import { type Host, HostError, type HttpAnswer } from '../host/host.ts'
import { readText } from './read-text.ts'

/** An answer that was kept, with what the server gave for asking whether it is still right. */
export interface KeptAnswer {
  readonly text: string
  readonly etag: string | undefined
  readonly modified: string | undefined
}

/** The validators of a kept answer; they say which text of which address is meant. */
interface Validators {
  readonly url: string
  readonly digest: string
  readonly etag?: string
  readonly modified?: string
}

const validatorsFile = (file: string): string => file.replace(/\.json$/, '.validators.json')

/** The kept answer of an address; undefined where it is of another one, or was changed or cut since it was kept. */
export function readKept(host: Host, file: string, url: string): KeptAnswer | undefined {
  const text = readText(host, file)
  const validators = readValidators(host, file)
  if (text === undefined || validators?.url !== url || validators.digest !== host.digest(text)) return undefined
  return { text, etag: validators.etag, modified: validators.modified }
}

/** Keeps an answer. A full disk or a read-only folder is no reason to lose it. */
export function keepAnswer(
  host: Host,
  file: string,
  { url, text, headers }: { readonly url: string; readonly text: string; readonly headers: HttpAnswer['headers'] },
): void {
  const { etag, 'last-modified': modified } = headers
  const digest = host.digest(text)
  const validators: Validators = { url, digest, ...(etag ? { etag } : {}), ...(modified ? { modified } : {}) }
  keepText(host, file, text)
  keepText(host, validatorsFile(file), `${JSON.stringify(validators, null, 2)}\n`)
}

/** Writes a file where that is possible. */
export function keepText(host: Host, file: string, text: string): void {
  try {
    if (readText(host, file) !== text) host.write(file, text)
  } catch (error) {
    if (!(error instanceof HostError)) throw error
  }
}

function readValidators(host: Host, file: string): Validators | undefined {
  try {
    const known: unknown = JSON.parse(readText(host, validatorsFile(file)) ?? 'null')
    return typeof known === 'object' && known !== null ? (known as Validators) : undefined
  } catch {
    return undefined
  }
}
