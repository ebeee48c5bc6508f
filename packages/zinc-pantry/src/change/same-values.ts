import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** What a change may make of the values of an entry. */
export interface AllowedValues {
  /** True where one text, or key, may have become another. */
  mayBecome(before: string, after: string): boolean
  /** Names of fields that may differ. */
  readonly fields: ReadonlySet<string>
}

/**
 * The dotted path of a value of an entry that a change would touch without being asked to; undefined where there is none. Texts with
 * links may differ, and what is computed.
 */
export function findOtherValue(before: LinkedEntry, after: LinkedEntry, allowed: AllowedValues): string | undefined {
  if (!before.data || !after.data) return undefined
  const texts = new Set(before.texts.map(({ path }) => path.join('.')))
  const compare = (one: unknown, other: unknown, path: readonly string[]): string | undefined => {
    if (Object.is(one, other)) return undefined
    const name = path.join('.')
    if (typeof one === 'string' && typeof other === 'string')
      return texts.has(name) || allowed.mayBecome(one, other) ? undefined : name
    const [keys, others] = [keysOf(one), keysOf(other)]
    if (!keys || !others || keys.length !== others.length) return name
    for (const [at, key] of keys.entries()) {
      const now = others.includes(key) ? key : (others[at] as string)
      if (now !== key && !allowed.mayBecome(key, now)) return [...path, key].join('.')
      const found = compare(valueAt(one, [key]), valueAt(other, [now]), [...path, key])
      if (found !== undefined) return found
    }
    return undefined
  }
  const others = Object.keys(after.data)
  for (const [field, value] of Object.entries(before.data)) {
    if (allowed.fields.has(field)) continue
    const now = others.includes(field) ? field : others.find((name) => allowed.mayBecome(field, name))
    const found = now === undefined ? field : compare(value, after.data[now], [field])
    if (found !== undefined) return found
  }
  return undefined
}

const keysOf = (value: unknown): readonly string[] | undefined =>
  Array.isArray(value) || isGroup(value) ? Object.keys(value) : undefined
