import { relativePath } from '../change/rename-path.ts'
import { writeScalar } from '../change/write-scalar.ts'
import type { WrittenField } from '../change/written-fields.ts'
import type { AnyField } from '../schema/any-field.ts'
import { childrenOf, kindOf, leadingOf } from '../schema/kinds.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { FormatName } from '../values/format-names.ts'
import { describeEntry, PICTURE } from './describe-entry.ts'
import type { EditorSite } from './editor-site.ts'
import type { Token } from './find-token.ts'
import type { Offer, OfferKind } from './offer.ts'

/** A value that is offered, before it is written. */
interface Value extends Pick<Offer, 'detail' | 'help' | 'isDeprecated'> {
  readonly kind: OfferKind
  /** What is written: a text, or something else than text as JSON has it. */
  readonly value: string | number | boolean
  readonly label?: string | undefined
}

/** The surroundings of an offer of values. */
export interface ValueContext {
  readonly editorSite: EditorSite
  /** The file that is written, from the root. */
  readonly file: string
  readonly format: FormatName
  /** True where nothing else stands in front of it in its line. */
  readonly isOwnLine?: boolean
  /** The present moment as an instant in UTC. */
  readonly now: string
}

/** The values that a field may have. */
export function offerValues({ field }: Pick<WrittenField, 'field'>, token: Token, context: ValueContext): Offer[] {
  const { item } = childrenOf(field)
  const isItem = field.kind === 'list' && item !== undefined
  const values = valuesOf(isItem ? item : field, context)
  return values.flatMap((one): Offer[] => {
    const written = writeValue(one.value, token, context.format)
    if (written === undefined) return []
    const text = isItem ? wrapItem(written, context.format, context.isOwnLine === true) : written
    const words = String(one.value)
    const { label = words, kind, detail, help, isDeprecated } = one
    const beside = detail ?? (label === words ? undefined : words)
    const sought = label === words ? words : `${label} ${words}`
    return [
      { label, kind, text, span: token.span, sought, detail: beside, help, ...(isDeprecated ? { isDeprecated } : {}) },
    ]
  })
}

/** One item in the place of a whole list. */
const wrapItem = (written: string, format: FormatName, isOwnLine: boolean): string =>
  isTable(format) ? written : format === 'yaml' && isOwnLine ? `- ${written}` : `[${written}]`

const isTable = (format: FormatName): boolean => format === 'csv' || format === 'tsv'

function writeValue(
  value: string | number | boolean,
  { quote, isInFlow }: Token,
  format: FormatName,
): string | undefined {
  if (typeof value !== 'string') return quote === '' ? String(value) : undefined
  const isJson = format === 'json' || format === 'jsonc' || format === 'jsonl'
  if (isJson) return JSON.stringify(value)
  if (format === 'toml') return writeScalar(quote || '"', value, format)
  const written = writeScalar(quote, value, format)
  return format === 'yaml' && isInFlow && written !== undefined && quote === '' && /[,[\]{}]/.test(written)
    ? JSON.stringify(value)
    : written
}

function valuesOf(field: AnyField, context: ValueContext): Value[] {
  const { editorSite, now } = context
  const { alternatives } = childrenOf(field)
  if (alternatives) return alternatives.flatMap((one) => valuesOf(one, context))
  const { targets = [], by, through } = leadingOf(field) ?? {}
  if (targets.length > 0 && by !== undefined && through === undefined)
    return targets.flatMap((target) =>
      editorSite
        .choicesOf(target, by, targets.length === 1)
        .map(({ value, label, entry }): Value => offerEntry(value, label, { entry, editorSite })),
    )
  const words = kindOf(field).words?.(field)
  if (words) return words.choices.map((value) => ({ kind: 'word', value, label: words.labels?.[value] }))
  switch (field.kind) {
    case 'flag':
      return [true, false].map((value) => ({ kind: 'value', value }))
    case 'date':
      return [{ kind: 'value', value: now.slice(0, 10), detail: 'today' }]
    case 'instant':
      return [{ kind: 'value', value: now, detail: 'now' }]
    case 'image':
    case 'file':
      return offerFiles(field, context)
    default:
      return givenValues(field)
  }
}

function offerEntry(
  value: string,
  label: string,
  { entry, editorSite }: { readonly entry: LinkedEntry; readonly editorSite: EditorSite },
): Value {
  return {
    kind: 'entry',
    value,
    label,
    detail: label === value ? entry.collection : value,
    help: () => describeEntry(editorSite, entry),
  }
}

/** What the schema itself gives: the default and examples. */
function givenValues({ options }: AnyField): Value[] {
  const absent = (options as { readonly default?: unknown }).default
  const given = [
    ...(absent === undefined ? [] : [{ value: absent, detail: 'default' }]),
    ...(options.examples ?? []).map((value) => ({ value, detail: 'example' })),
  ]
  return given.flatMap(({ value, detail }): Value[] =>
    typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean'
      ? [{ kind: 'value', value, detail }]
      : [],
  )
}

/** The files of the content folder, as the file that names them would. */
function offerFiles(field: AnyField, { editorSite, file }: ValueContext): Value[] {
  const from = editorSite.contentPath(file) ?? ''
  const isWritten = (path: string): boolean => editorSite.site.checked.owners.has(`${editorSite.model.content}/${path}`)
  return editorSite.site.listing
    .filter((path) => (field.kind === 'image' ? PICTURE.test(path) : !isWritten(path)))
    .map((path): Value => ({ kind: 'file', value: relativePath(from, path), detail: sizeOf(editorSite, path) }))
}

/** The size of a file, with the dimensions of an image. */
function sizeOf({ site }: EditorSite, path: string): string | undefined {
  const answer = site.checked.asset(`/${path}`, '')
  if (!('facts' in answer)) return undefined
  const { sizeBytes, width, height } = answer.facts
  const size = sizeBytes < 1024 ? `${sizeBytes} B` : `${Math.round(sizeBytes / 1024)} KB`
  return width && height ? `${width} × ${height}, ${size}` : size
}
