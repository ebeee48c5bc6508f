import { computedKind, readComputed } from './computed-steps.ts'

/** The step of a path to the number of the items of a list, or of the keys of a map, as settings and conditions write it. */
export const COUNT_STEP = 'count()'

/** The step of a path from a map to its keys. */
export const KEYS_STEP = 'keys()'

/** What a step of a path leads to. */
export function readStep(value: unknown, step: string): unknown {
  if (step === COUNT_STEP) return Array.isArray(value) ? value.length : Object.keys(value as object).length
  if (step === KEYS_STEP) return Object.keys(value as object)
  const computed = isKeyed(value) ? undefined : readComputed(value, step)
  return computed ? computed.value : (value as Readonly<Record<string, unknown>>)[step]
}

/** True for a group or a map, whose keys may be called as steps are. */
const isKeyed = (value: unknown): boolean => typeof value === 'object' && !Array.isArray(value)

/** What is known of a kind of value, as far as steps ask for it. */
interface Steppable {
  readonly kind: string
  readonly item?: Steppable
  readonly keys?: Steppable
}

/**
 * What a list or a map has beside its items: their number, its keys, and of a map the value of each key; and what is
 * computed of a value. Undefined for any other step.
 */
export function ofMany({ kind, item, keys }: Steppable, step: string): Steppable | undefined {
  const computed = computedKind({ kind }, step)
  if (computed) return { kind: computed }
  if (!item) return undefined
  if (step === COUNT_STEP) return NUMBER
  if (kind === 'list') return undefined
  return step === KEYS_STEP && keys ? { kind: 'list', item: keys } : item
}

const NUMBER: Steppable = { kind: 'number' }
