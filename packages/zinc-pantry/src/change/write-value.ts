import { isGroup } from '../diagnostics/own-key.ts'
import type { FormatName } from '../values/format-names.ts'
import { writeScalar } from './write-scalar.ts'

/** How texts are written where nothing stands yet. */
const SAMPLE: Readonly<Partial<Record<FormatName, string>>> = { json: '""', jsonc: '""', jsonl: '""', toml: '""' }

/** A value on one line of a format; `written` is what stands in its place. Undefined where the format has no such value there. */
export function writeValue(value: unknown, written: string | undefined, format: FormatName): string | undefined {
  const sample = written !== undefined && /^["']/.test(written) ? written : (SAMPLE[format] ?? '')
  if (typeof value === 'string') return value === '' && sample === '' ? "''" : writeScalar(sample, value, format)
  if (typeof value === 'number' || typeof value === 'boolean') return String(value)
  if (value === null) return format === 'toml' ? undefined : 'null'
  if (Array.isArray(value)) {
    const items = value.map((item) => writeValue(item, undefined, format))
    return items.includes(undefined) ? undefined : `[${items.join(', ')}]`
  }
  if (!isGroup(value) || format === 'toml') return undefined
  const parts = Object.entries(value).map(([key, inner]) => {
    const [name, text] = [writeScalar(SAMPLE[format] ?? 'a', key, format), writeValue(inner, undefined, format)]
    return name === undefined || text === undefined ? undefined : `${name}: ${text}`
  })
  return parts.includes(undefined) ? undefined : parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`
}
