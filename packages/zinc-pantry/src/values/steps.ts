import { computedKind } from './computed-steps.ts'

/** The step of a path to the number of the items of a list, or of the keys of a map, as settings and conditions write it. */
export const COUNT_STEP = 'count()'

/** The step of a path from a map to its keys. */
export const KEYS_STEP = 'keys()'

/** What a step of a path leads to. */
export function readStep(value: unknown, step: string): unknown {
  if (step === COUNT_STEP) return Array.isArray(value) ? value.length : Object.keys(value as object).length
  if (step === KEYS_STEP) return Object.keys(value as object)
  return (value as Readonly<Record<string, unknown>>)[step]
}

/** What is known of a kind of value, as far as steps ask for it. */
interface Steppable {
  readonly kind: string
  readonly choices?: readonly string[]
  readonly fields?: Readonly<Record<string, unknown>>
  readonly item?: Steppable
  readonly keys?: Steppable
}

/**
 * What a list or a map has beside its items: their number, its keys, and of a map the value of each key; and what is
 * computed of a value. Undefined for any other step.
 */
export function ofMany(holder: Steppable, step: string): Steppable | undefined {
  const { kind, item, keys } = holder
  const computed = computedKind(holder, step)
  if (computed) return { kind: computed }
  if (!item) return undefined
  if (step === COUNT_STEP) return NUMBER
  if (kind === 'list') return undefined
  return step === KEYS_STEP && keys ? { kind: 'list', item: keys } : item
}

const NUMBER: Steppable = { kind: 'number' }
