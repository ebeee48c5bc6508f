import { isGroup } from '../../diagnostics/own-key.ts'
import { keyBeside } from '../../memo/kept-results.ts'
import type { AnyField } from '../../schema/any-field.ts'
import { type Check, createDetachedRun, type PatternMatcher } from '../../schema/check-run.ts'
import { compileGroup } from '../../schema/compile-schema.ts'
import { alternativesOf } from '../../schema/fields/variant.ts'
import { kindOf } from '../../schema/kinds.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import { isRest } from '../../schema/written-key.ts'
import type { FileResult } from '../check-file.ts'
import { isSameValue } from '../checked-records.ts'
import { type DigestContext, digestModel } from './model-text.ts'
import type { SiteMemory } from './site-memory.ts'

/** The fields of a collection as results were made with them. */
export interface KnownFields {
  /** Says all of them. */
  readonly id: string
  readonly digests: Readonly<Record<string, string>>
}

/** The fields of a collection, and whether files that were right with others are right with these. */
export interface Rechecks {
  readonly fields: KnownFields
  /**
   * True where nothing was wrong with a file when its fields were others of the same outline, and nothing is now: the values of
   * those that changed pass as they are, so that the whole result stands.
   */
  isRight(result: FileResult, last: KnownFields): boolean
  /** The fields that an earlier process had. */
  recall(id: string): KnownFields | undefined
}

/** The surroundings of a collection whose files are checked again. */
interface RecheckContext extends DigestContext {
  readonly model: Model
  readonly memory: Pick<SiteMemory, 'store' | 'isStored'>
  readonly matches: PatternMatcher
}

/** Opens what tells whether files stand; undefined where code that is not known decides. */
export function openRechecks(collection: CollectionModel, context: RecheckContext): Rechecks | undefined {
  const { host, memory, matches } = context
  const digests: Record<string, string> = {}
  for (const [name, field] of Object.entries(collection.fields)) {
    const digest = digestModel(field, context)
    if (digest === undefined) return undefined
    digests[name] = digest
  }
  const fields: KnownFields = { id: keyBeside(host.digest(JSON.stringify(digests)), 'c'), digests }
  if (memory.isStored && memory.store.get(fields.id) === undefined)
    memory.store.put(fields.id, [JSON.stringify(digests)])
  const tests = new Map<string, ValueTest | undefined>()
  const testOf = (last: KnownFields): ValueTest | undefined => {
    if (!tests.has(last.id)) tests.set(last.id, createTest(collection, findChanged(fields, last), context))
    return tests.get(last.id)
  }
  return {
    fields,
    isRight({ entries, diagnostics, failed }, last) {
      if (last.id === fields.id) return true
      const test = testOf(last)
      return (
        test !== undefined &&
        !failed &&
        diagnostics.length === 0 &&
        entries.every(({ data }) => data && test(data, matches))
      )
    },
    recall(id) {
      if (id === fields.id) return fields
      const kept = memory.store.get(id)
      return isGroup(kept) ? { id, digests: kept as KnownFields['digests'] } : undefined
    },
  }
}

const findChanged = ({ digests }: KnownFields, last: KnownFields): readonly string[] =>
  Object.keys(digests).filter((name) => digests[name] !== last.digests[name])

type ValueTest = (data: Readonly<Record<string, unknown>>, matches: PatternMatcher) => boolean

/** Makes a test of the values of some fields; undefined where these are not all that the fields decide. */
function createTest(
  { fields, unknownKeys }: CollectionModel,
  changed: readonly string[],
  { model }: RecheckContext,
): ValueTest | undefined {
  const own = changed.map((name) => [name, fields[name] as AnyField] as const)
  // Fields of one of several shapes stand beside the one that tells them apart, and a map of the rest takes what others leave.
  if (own.some(([name, field]) => isRest(field) || name === alternativesOf(fields).key)) return undefined
  const written = own.filter(([, field]) => kindOf(field).computed !== true)
  const asNamed = ([name, field]: (typeof own)[number]) =>
    [name, { ...field, options: { ...field.options, writtenAs: name } } as AnyField] as const
  const check: Check = compileGroup(Object.fromEntries(written.map(asNamed)), {
    unknownKeys,
    blocks: model.blocks,
  })
  return (data, matches) => {
    const values = Object.fromEntries(written.map(([name]) => [name, data[name] ?? null]))
    let isRight = true
    const run = createDetachedRun({ report: () => (isRight = false), matches })
    return isSameValue(check(values, run), values) && isRight
  }
}
