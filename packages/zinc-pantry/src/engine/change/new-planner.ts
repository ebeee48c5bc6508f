import type { Change, Refusal } from '../../change/change.ts'
import { listEntryChoices } from '../../change/entry-choices.ts'
import { type PlannedEntry, planEntry, type WantedEntry, writeEntry } from '../../change/new-entry.ts'
import { type GivenText, readGiven } from '../../change/read-given.ts'
import type { MissingValue, Skeleton } from '../../change/skeleton.ts'
import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { valueAt } from '../../diagnostics/own-key.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import { mergedFields } from '../../schema/fields/variant.ts'
import { childrenOf, expectedOf, kindOf, leadingOf } from '../../schema/kinds.ts'
import { loadTransliterator } from '../../schema/transliterator.ts'
import { writtenKey } from '../../schema/written-key.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'
import { refuseUnknown, withoutFront } from './target.ts'

/** An entry that is to be made. */
export interface NewRequest {
  readonly kind: 'new'
  readonly collection: string
  /** What people call it, or its id. */
  readonly name?: string | undefined
  /** Values as texts, as `set` reads them. */
  readonly values: readonly GivenText[]
  /** Values by their keys as they are written, with their types; what is there is not commented. Default: none. */
  readonly record?: Readonly<Record<string, unknown>> | undefined
  /** The text of the body. Default: that of the entry that it is like, or none. */
  readonly body?: string | undefined
  /** An entry of the collection whose values stand where none are given, such as `huts/gable`. Default: none. */
  readonly like?: string | undefined
  /** The language of the entry (BCP 47). Default: the first of the site. */
  readonly locale?: string | undefined
  /** The file that it is to stand in, relative to the content folder. Default: as others of the collection. */
  readonly into?: string | undefined
}

/** A question for a value that must be there. */
export interface Question {
  /** The field, names joined by dots. */
  readonly field: string
  readonly description: string | undefined
  /** The value that is expected, in words. */
  readonly expected: string
  /** What it may be, where that is known; people see the labels. */
  readonly choices?: readonly { readonly value: string; readonly label: string }[] | undefined
  /** True where several may be given, joined by commas. */
  readonly isMany: boolean
}

/** Asks a person; undefined for no answer. */
export type Ask = (question: Question) => Promise<string | undefined>

/** Makes what plans a new entry, after asking for what must be there and is not given. */
export async function createNewPlanner(
  request: NewRequest,
  subject: ChangeSubject,
  { now, ask }: { readonly now: string; readonly ask: Ask | undefined },
): Promise<Planner | Refusal> {
  const { collection: name, like, into } = request
  const found = subject.collections.find(({ collection }) => collection.name === name)
  const other = like === undefined ? undefined : findLike(subject, name, like)
  if (like !== undefined && !other) return refuseUnknown(subject, like) ?? { refused: `There is no entry "${like}"` }
  const locale = found?.collection.locales === undefined ? undefined : (request.locale ?? subject.model.locales[0])
  const transliterate = await loadTransliterator(true)
  const copied = other && copyEntry(subject, other)
  const make = (values: readonly GivenText[]): PlannedEntry | Refusal => {
    const given = found ? readGiven(found.collection, subject.model, values) : { given: {} }
    if ('refused' in given) return given
    const { body, like: old } = copied ?? {}
    const own: WantedEntry = {
      ...request,
      given: { ...given.given, ...request.record },
      name: request.name,
      collection: name,
      like: old,
      locale,
      into: into && withoutFront(into, `${subject.model.content}/`),
      body: request.body ?? body,
      now,
      transliterate,
    }
    return planEntry(subject, own)
  }
  const planned = await askMissing(subject, { make, values: request.values, ask })
  if ('refused' in planned) return planned
  const body = request.body ?? copied?.body
  const { id, place, skeleton } = planned
  const said = request.record ? withoutComments(skeleton) : skeleton
  const words = `${name}/${id ?? ''} is new`.replace('/ ', ' ')
  return {
    plan(): Change | Refusal {
      const steps = writeEntry(subject, { ...planned, skeleton: said }, { body, readOptionsOf })
      return 'refused' in steps ? steps : { words, steps, attention: [] }
    },
    isExpected: ({ code, file }: Diagnostic) =>
      planned.skeleton.missing.length > 0 && file === `${subject.model.content}/${place.file}` && EXPECTED.has(code),
    refuse(_, seen) {
      const isThere = id === undefined || entriesOf(seen).some((entry) => entry.collection === name && entry.id === id)
      if (isThere) return findOtherValues(subject, seen, { mayBecome: () => false, fieldsOf: () => [] })
      return {
        refused: `${name}/${id} would not be read from ${place.file}`,
        help: `Compare it with the patterns in files of ${name}`,
      }
    },
  }
}

/** What a person has filled in needs no word of what it may be. */
const withoutComments = (skeleton: Skeleton): Skeleton => {
  const missing = new Set(skeleton.missing.map(({ names }) => names.join('.')))
  return { ...skeleton, comments: new Map([...skeleton.comments].filter(([path]) => missing.has(path))) }
}

/** Problems of values that are still to be filled in. */
const EXPECTED: ReadonlySet<string> = new Set(['field-missing', 'field-empty'])

/** The entry that a new one starts from, by its id where that is of the same collection. */
const findLike = (subject: ChangeSubject, collection: string, like: string): LinkedEntry | undefined => {
  const find = (name: string) => entriesOf(subject).find((entry) => qualifiedId(entry) === name)
  return find(`${collection}/${like}`) ?? find(like)
}

/** What an entry holds that another may have as well: not its former addresses. */
function copyEntry(
  subject: ChangeSubject,
  entry: LinkedEntry,
): { readonly like: Readonly<Record<string, unknown>>; readonly body: string | undefined } {
  const source = createSources(subject, readOptionsOf)(entry)
  const record = { ...(valueAt(source?.document.value, entry.recordPath) as Readonly<Record<string, unknown>>) }
  const holder = subject.model.collections.find(({ name }) => name === entry.collection)
  const former = holder?.formerAddresses
  const field = former === undefined ? undefined : mergedFields(holder?.fields ?? {})[former]
  if (former !== undefined && field) delete record[writtenKey(former, field)]
  return { like: record, body: entry.body && source?.text.slice(entry.body.startOffset) }
}

interface Asking {
  readonly make: (values: readonly GivenText[]) => PlannedEntry | Refusal
  readonly values: readonly GivenText[]
  readonly ask: Ask | undefined
}

/** Asks for each value that is missing, once; an answer may bring others. */
async function askMissing(subject: ChangeSubject, { make, values, ask }: Asking): Promise<PlannedEntry | Refusal> {
  const asked = new Set<string>()
  let given = values
  for (;;) {
    const planned = make(given)
    if ('refused' in planned || !ask) return planned
    const next = planned.skeleton.missing.find(({ names }) => !asked.has(names.join('.')))
    if (!next) return planned
    asked.add(next.names.join('.'))
    const text = await ask(questionFor(subject, next))
    if (text !== undefined && text !== '') given = [...given, { path: next.names, text }]
  }
}

function questionFor(subject: ChangeSubject, { names, field }: MissingValue): Question {
  const { item } = childrenOf(field)
  const one = field.kind === 'list' && item ? item : field
  const words = kindOf(one).words?.(one)
  const { targets = [], by = 'id' } = leadingOf(one) ?? {}
  const ofWords = words?.choices.map((value) => ({ value, label: words.labels?.[value] ?? value }))
  const choices =
    targets.length > 0
      ? targets.flatMap((target) => listEntryChoices(subject.collections, target, { by, isOnly: targets.length === 1 }))
      : ofWords
  return {
    field: names.join('.'),
    description: field.options.description,
    expected: expectedOf(field),
    choices: one.kind === 'flag' ? FLAGS : choices,
    isMany: field.kind === 'list',
  }
}

const FLAGS = [
  { value: 'true', label: 'yes' },
  { value: 'false', label: 'no' },
]
