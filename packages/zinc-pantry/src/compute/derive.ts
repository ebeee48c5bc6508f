import { addTo } from '../diagnostics/add-to.ts'
import { createDiagnostic, type Diagnostic, messageOf } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { LinkedCollection } from '../link/link-entry.ts'
import { type Check, createDetachedRun, INVALID, type PatternMatcher, type Step } from '../schema/check-run.ts'
import { compileField } from '../schema/compile-schema.ts'
import type { DerivedField, OtherEntry, RuledBody, SiteView } from '../schema/computation.ts'
import type { BlockFields } from '../schema/kind.ts'
import { readAddress } from '../schema/read-address.ts'
import type { EntryBody, LinkedEntry } from '../validate/entry.ts'
import { createEntryViews, createSiteView, type EntryViews } from './entry-views.ts'
import { createLookups, NOTHING_SEEN, type Seen } from './lookups.ts'
import { createPrivateReads, findShown, type PrivateReads } from './private-reads.ts'
import { withValues } from './with-values.ts'

/** Computes derived fields when they are read, each once. */
export interface Deriver {
  /** Computes all derived fields of an entry. */
  derive(entry: LinkedEntry): Derived
  /** An entry as functions of the configuration see it. */
  viewOf(entry: LinkedEntry): OtherEntry
  readonly site: SiteView
  /** The views of all sound entries of a collection, in all languages. */
  allOf(collection: string): readonly OtherEntry[]
  /** Does something, and tells what it looked at. */
  watch<Result>(action: () => Result): { readonly result: Result; readonly seen: Seen }
  /** Looks up the key of something that was seen. */
  lookUp(key: string): unknown
}

/** An entry with its derived fields. */
export interface Derived {
  readonly entry: LinkedEntry
  readonly seen: Seen
  readonly diagnostics: readonly Diagnostic[]
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

/** The surroundings of a deriver. */
export interface DeriveContext {
  readonly blocks: BlockFields
  readonly matches: PatternMatcher
  /** What a body says of itself. */
  bodyOf(body: EntryBody): RuledBody
}

/**
 * Makes a deriver for all entries of a site. A problem is one of the entry that it concerns, whoever read its fields.
 */
export function createDeriver(
  collections: readonly LinkedCollection[],
  { blocks, matches, bodyOf }: DeriveContext,
): Deriver {
  const lookups = createLookups(collections)
  const { find, watch, note } = lookups
  /** The lookups of each value while it was computed. */
  const seenBy = new Map<LinkedEntry, Map<string, Seen>>()
  const compiled = new Map(
    collections.map(({ collection }) => [
      collection.name,
      Object.entries(collection.derived).map(([name, derived]): Compiled => {
        const one: Compiled = { name, derived, check: compileField(derived.field, 'refuse', blocks), read }
        // One getter for all entries: one of its own would keep each of them alive.
        function read(this: OtherEntry): unknown {
          return computeOnce(ownerOf(this), one)
        }
        return one
      }),
    ]),
  )
  const privates = createPrivateReads()
  const views = createEntryViews({
    blocks,
    privates,
    bodyOf,
    fieldsOf: (collection) => lookups.collection(collection)?.collection.fields ?? {},
    gettersOf: (collection) => compiled.get(collection) ?? [],
  })
  const { viewOf, ownerOf } = views
  const site = createSiteView(lookups, views)
  const values = new Map<LinkedEntry, Map<string, unknown>>()
  const running: string[] = []

  const computeOnce = (entry: LinkedEntry, one: Compiled): unknown => {
    const own = values.get(entry) ?? new Map<string, unknown>()
    values.set(entry, own)
    if (own.has(one.name)) {
      note(seenBy.get(entry)?.get(one.name) ?? NOTHING_SEEN)
      const value = own.get(one.name)
      return one.derived.field.options.private ? privates.note(one.name, value) : value
    }
    const label = `${entry.collection}.${one.name} of ${entry.id}`
    const start = running.indexOf(label)
    if (start !== -1) throw new CircleError([...running.slice(start), label])
    running.push(label)
    try {
      const { result, seen } = watch(() => compute(entry, one))
      own.set(one.name, result)
      seenBy.set(entry, (seenBy.get(entry) ?? new Map<string, Seen>()).set(one.name, seen))
      return result
    } finally {
      running.pop()
    }
  }

  const suggest = (id: string, names: readonly string[]): string | undefined =>
    suggestNearest(id, [...new Set(names.flatMap((name) => [...lookups.byId(name).keys()]))])
  const problems = new Map<LinkedEntry, Diagnostic[]>()
  const compute = (entry: LinkedEntry, one: Compiled): unknown => {
    const isStart = (label: unknown): boolean => label === running[running.length - 1]
    const { value = null, problems: found = [] } = computeValue(entry, one, {
      views,
      privates,
      site,
      find,
      suggest,
      matches,
      isStart,
    })
    for (const problem of found) addTo(problems, entry, problem)
    return one.derived.field.options.private && found.length === 0 ? privates.note(one.name, value) : value
  }

  return {
    viewOf,
    site,
    allOf: (collection) => views.listOf(`all of ${collection}`, lookups.all(collection)),
    watch,
    lookUp: lookups.lookUp,
    derive(entry) {
      if (!entry.data) return { entry, seen: NOTHING_SEEN, diagnostics: NO_DIAGNOSTICS }
      const own = compiled.get(entry.collection) ?? []
      const { result, seen } = watch(() => own.map((one) => [one.name, computeOnce(entry, one)] as const))
      const diagnostics = problems.get(entry) ?? NO_DIAGNOSTICS
      const data = withValues(entry.data, result)
      const derived = diagnostics.length === 0 ? { ...entry, data } : { ...entry, data, isUnsound: true as const }
      return { entry: derived, seen: seen.size === 0 ? NOTHING_SEEN : seen, diagnostics }
    },
  }
}

const NO_DIAGNOSTICS: readonly Diagnostic[] = []

/** The surroundings of the computation of a value. */
interface ComputeContext extends Pick<ValueContext, 'find' | 'suggest' | 'matches'> {
  readonly views: EntryViews
  readonly privates: PrivateReads
  readonly site: SiteView
  /** True for the value that is being computed. */
  isStart(label: unknown): boolean
}

/** Computes a derived field, or tells what is wrong with it. */
function computeValue(
  entry: LinkedEntry,
  { name, derived, check }: Compiled,
  { views, privates, site, find, suggest, matches, isStart }: ComputeContext,
): { readonly value?: unknown; readonly problems?: readonly Diagnostic[] } {
  const { optional = false, private: isPrivate = false } = derived.field.options
  try {
    const { result, reads } = privates.watch(() => derived.from(views.viewOf(entry) as never, site))
    const shown = isPrivate ? undefined : findShown(result, reads)
    if (shown)
      return { problems: [createDiagnostic('derive-private', entry.locate([]), { field: name, shown: shown.field })] }
    const checked = checkValue(result, { check, find, suggest, matches, optional })
    if ('value' in checked) return { value: checked.value }
    const sources = checked.dangling.flatMap((one) => sourcesOf(one.id, entry.data).map((path) => ({ ...one, path })))
    if (checked.problem === undefined && sources.length > 0)
      return {
        problems: sources.map(({ path, ...parameters }) =>
          createDiagnostic('ref-dangling', entry.locate(path), parameters, { field: name }),
        ),
      }
    const problem = checked.problem ?? `No entry "${checked.dangling[0]?.id}" in ${checked.dangling[0]?.collection}`
    return { problems: [createDiagnostic('derive-invalid', entry.locate([]), { field: name, problem })] }
  } catch (error) {
    // A circle is told once, where it started.
    if (error instanceof CircleError && !isStart(error.fields[0])) throw error
    return { problems: [describeFailure(entry, name, error)] }
  }
}

function describeFailure(entry: LinkedEntry, field: string, error: unknown): Diagnostic {
  if (error instanceof CircleError) return createDiagnostic('derive-cycle', entry.locate([]), { fields: error.fields })
  const reason = (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? ''
  return createDiagnostic('derive-failed', entry.locate([]), { field, reason })
}

interface ValueContext {
  readonly check: Check
  find(collection: string, id: string): unknown
  /** The nearest id of some collections. */
  suggest(id: string, collections: readonly string[]): string | undefined
  readonly matches: PatternMatcher
  readonly optional: boolean
}

/** Checks a computed value by its field; the first problem is told. */
function checkValue(
  raw: unknown,
  { check, find, suggest, matches, optional }: ValueContext,
): { value: unknown } | { problem: string | undefined; dangling: readonly Dangling[] } {
  const problems: string[] = []
  const dangling: Dangling[] = []
  if (raw === undefined || raw === null) return optional ? { value: null } : { problem: 'It is empty', dangling }
  const run = createDetachedRun({
    report: (code, parameters) => {
      const diagnostic = createDiagnostic(code, { file: '', span: [0, 0] }, parameters)
      if (diagnostic.severity === 'error') problems.push(messageOf(diagnostic))
    },
    matches,
    reference({ targets, text, several }) {
      const readings = readAddress(text, several, targets)
      const found = readings.find(({ collection, id }) => find(collection, id) !== undefined)
      if (!found) dangling.push({ id: text, collection: targets.join(' or '), suggestion: suggest(text, targets) })
      return several ? found : text
    },
  })
  const value = check(raw, run)
  const [problem] = problems
  if (problem !== undefined || dangling.length > 0) return { problem, dangling }
  return value === INVALID ? { problem: 'It does not fit', dangling } : { value }
}

/** A computed reference that leads nowhere. */
interface Dangling {
  readonly id: string
  readonly collection: string
  readonly suggestion: string | undefined
}

/** Where the fields of an entry say a text: the values that are it, or else those that hold it. */
function sourcesOf(text: string, data: LinkedEntry['data']): readonly (readonly Step[])[] {
  const leaves = [...leavesIn(data ?? {})]
  const same = leaves.filter(({ value }) => value === text)
  const found = same.length > 0 ? same : leaves.filter(({ value }) => value.includes(text))
  return found.map(({ path }) => path)
}

function* leavesIn(
  value: unknown,
  path: readonly Step[] = [],
): Generator<{ readonly value: string; readonly path: readonly Step[] }> {
  if (typeof value === 'string' || typeof value === 'number') yield { value: String(value), path }
  if (typeof value !== 'object' || value === null) return
  for (const [key, inner] of Object.entries(value))
    yield* leavesIn(inner, [...path, Array.isArray(value) ? Number(key) : key])
}
