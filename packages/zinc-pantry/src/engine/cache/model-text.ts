import type { Host } from '../../host/host.ts'

/** A part of a model as text for a digest. */
export interface ModelText {
  readonly text: string
  /** True where it holds functions, whose code can depend on anything in the configuration. */
  readonly hasCode: boolean
}

/** Writes plain data and functions as text: the same data gives the same text. */
export function writeModelText(value: unknown): ModelText {
  const parts: string[] = []
  const above = new Set<object>()
  let hasCode = false
  const write = (one: unknown): void => {
    if (typeof one === 'function') {
      hasCode = true
      parts.push('function ', String(one))
      return
    }
    if (typeof one !== 'object' || one === null) {
      parts.push(typeof one, ' ', String(one), '\n')
      return
    }
    if (above.has(one)) {
      parts.push('above')
      return
    }
    const isPlain =
      Array.isArray(one) || one instanceof Map || [Object.prototype, null].includes(Object.getPrototypeOf(one))
    // What another library made keeps its state wherever it likes.
    if (!isPlain || '~standard' in one) {
      hasCode = true
      parts.push('made ', String((one as { constructor?: { name?: string } }).constructor?.name))
      return
    }
    above.add(one)
    const entries = one instanceof Map ? [...one] : Object.entries(one)
    parts.push(Array.isArray(one) ? '[' : '{')
    for (const [key, inner] of entries) {
      parts.push(JSON.stringify(String(key)), ':')
      write(inner)
    }
    parts.push('}')
    above.delete(one)
  }
  write(value)
  return { text: parts.join(''), hasCode }
}

/** What digests of models need. */
export interface DigestContext {
  readonly host: Pick<Host, 'digest' | 'version'>
  /** A digest of the configuration's code; undefined where that is not known. */
  readonly code: string | undefined
}

/**
 * A digest of a part of a model, of the version of the package, and of the configuration's code where the part holds functions;
 * undefined where that code is not known.
 */
export function digestModel(part: unknown, { host, code }: DigestContext): string | undefined {
  const { text, hasCode } = writeModelText(part)
  return hasCode && code === undefined ? undefined : host.digest([host.version(), hasCode ? code : '', text].join('\n'))
}
