import { createDiagnostic, type Diagnostic, messageOf } from '../diagnostics/diagnostic.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import { compileField } from '../schema/compile-schema.ts'
import { type BlockFields, type Check, type CheckRun, INVALID } from '../schema/field.ts'
import type { DerivedField, OtherEntry, SiteView } from '../schema/pantry.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** Computes derived fields when they are read, each once. */
export interface Deriver {
  /** The data of an entry, with its derived fields. */
  dataOf(entry: LinkedEntry): Readonly<Record<string, unknown>>
  /** An entry as functions of the configuration see it. */
  viewOf(entry: LinkedEntry): OtherEntry
  readonly site: SiteView
}

interface Compiled {
  readonly name: string
  readonly derived: DerivedField
  readonly check: Check
  /** Gives the value of the view that it is called on. */
  readonly read: (this: OtherEntry) => unknown
}

/** Ends a computation that waits for itself. */
class CircleError extends Error {
  readonly fields: readonly string[]
  constructor(fields: readonly string[]) {
    super(`circle of ${fields.join(', ')}`)
    this.fields = fields
  }
}

/** Makes a deriver for all entries of a site. Problems are reported once, at the entry they concern. */
export function createDeriver(
  collections: readonly LinkedCollection[],
  blocks: BlockFields,
  report: (diagnostic: Diagnostic) => void,
): Deriver {
  const ids = new Map(
    collections.map(({ collection, entries }) => [collection.name, new Map(entries.map((entry) => [entry.id, entry]))]),
  )
  const compiled = new Map(
    collections.map(({ collection }) => [
      collection.name,
      Object.entries(collection.derived).map(([name, derived]): Compiled => {
        const one: Compiled = { name, derived, check: compileField(derived.field, 'refuse', blocks), read }
        // One getter for all entries: one of its own would keep each of them alive.
        function read(this: OtherEntry): unknown {
          return computeOnce(owners.get(this) as LinkedEntry, one)
        }
        return one
      }),
    ]),
  )
  const views = new Map<LinkedEntry, OtherEntry>()
  const owners = new Map<OtherEntry, LinkedEntry>()
  const values = new Map<LinkedEntry, Map<string, unknown>>()
  const running: string[] = []

  const viewOf = (entry: LinkedEntry): OtherEntry => {
    const known = views.get(entry)
    if (known) return known
    const { id, slug, collection, source, locale, data } = entry
    const view = { id, slug, collection, source, ...(locale === undefined ? {} : { locale }), ...data }
    for (const one of compiled.get(collection) ?? [])
      Object.defineProperty(view, one.name, { enumerable: true, get: one.read })
    views.set(entry, Object.freeze(view))
    owners.set(view, entry)
    return view
  }

  const computeOnce = (entry: LinkedEntry, one: Compiled): unknown => {
    const own = values.get(entry) ?? new Map<string, unknown>()
    values.set(entry, own)
    if (own.has(one.name)) return own.get(one.name)
    const label = `${entry.collection}.${one.name} of ${entry.id}`
    const start = running.indexOf(label)
    if (start !== -1) throw new CircleError([...running.slice(start), label])
    running.push(label)
    let value: unknown = null
    try {
      value = compute(entry, one)
    } finally {
      running.pop()
    }
    own.set(one.name, value)
    return value
  }

  const compute = (entry: LinkedEntry, { name, derived, check }: Compiled): unknown => {
    let raw: unknown
    try {
      raw = derived.from(viewOf(entry) as never, site)
    } catch (error) {
      // A circle is told once, where it started.
      if (error instanceof CircleError && error.fields[0] !== running[running.length - 1]) throw error
      report(describeFailure(entry, name, error))
      return null
    }
    const checked = checkValue(raw, { check, ids, optional: derived.field.options.optional === true })
    if (!('problem' in checked)) return checked.value
    report(createDiagnostic('derive-invalid', entry.locate([]), { field: name, problem: checked.problem }))
    return null
  }

  const entriesOf = (collection: string): LinkedEntry[] => {
    const known = ids.get(collection)
    if (!known) throw new Error(`there is no collection ${collection}`)
    return [...known.values()].filter(({ data }) => data !== undefined)
  }
  const site: SiteView = {
    entry: <Entry>(collection: string, id: string) => {
      if (!ids.has(collection)) throw new Error(`there is no collection ${collection}`)
      const found = ids.get(collection)?.get(id)
      return found?.data ? (viewOf(found) as Entry) : undefined
    },
    entries: <Entry>(collection: string) => entriesOf(collection).map((entry) => viewOf(entry) as Entry),
  }
  return {
    viewOf,
    site,
    dataOf(entry) {
      const own = (compiled.get(entry.collection) ?? []).map((one) => [one.name, computeOnce(entry, one)] as const)
      return { ...entry.data, ...Object.fromEntries(own) }
    },
  }
}

function describeFailure(entry: LinkedEntry, field: string, error: unknown): Diagnostic {
  if (error instanceof CircleError) return createDiagnostic('derive-cycle', entry.locate([]), { fields: error.fields })
  const reason = (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? ''
  return createDiagnostic('derive-failed', entry.locate([]), { field, reason })
}

interface ValueContext {
  readonly check: Check
  readonly ids: ReadonlyMap<string, ReadonlyMap<string, unknown>>
  readonly optional: boolean
}

/** Checks a computed value by its field; the first problem is told. */
function checkValue(raw: unknown, { check, ids, optional }: ValueContext): { value: unknown } | { problem: string } {
  const problems: string[] = []
  if (raw === undefined || raw === null) return optional ? { value: null } : { problem: 'It is empty' }
  const run: CheckRun = {
    path: [],
    hasLeadingZeros: false,
    report: (code, parameters) => {
      const diagnostic = createDiagnostic(code, { file: '', span: [0, 0] }, parameters)
      if (diagnostic.severity === 'error') problems.push(messageOf(diagnostic))
    },
    written: String,
    reference({ targets, text, several }) {
      const found = targets.find((target) => ids.get(target)?.has(text))
      if (found === undefined) problems.push(`No entry "${text}" in ${targets.join(' or ')}`)
      return several ? { collection: found ?? '', id: text } : text
    },
    asset: (path) => ({ missing: path }),
    linked: () => undefined,
  }
  const value = check(raw, run)
  const [problem] = problems
  if (problem !== undefined) return { problem }
  return value === INVALID ? { problem: 'It does not fit' } : { value }
}
