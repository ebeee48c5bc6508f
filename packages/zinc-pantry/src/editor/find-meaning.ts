import type { BodyHeading } from '../body/body-summary.ts'
import {
  blockLevel,
  blockSymbol,
  choiceSymbol,
  choicesOf,
  fieldOf,
  fieldSymbol,
  type ModelSymbol,
} from '../change/model-names.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import { alternativesOf } from '../schema/fields/variant.ts'
import { childrenOf, leadingOf } from '../schema/kinds.ts'
import { idKeysOf } from '../schema/naming-rule.ts'
import { readAddress } from '../schema/read-address.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { findOccurrenceAt, nameOf, type Surrounding } from './configuration-names.ts'
import type { EditorSite } from './editor-site.ts'
import type { Cursor } from './find-cursor.ts'
import type { FieldPlace } from './find-field.ts'
import { linksIn, lookAt, type Position } from './look-at.ts'

/** A thing of the site that a position means. */
export type Meaning = { readonly span: Span } & (
  | { readonly kind: 'entry'; readonly entry: LinkedEntry }
  /** A collection, a block, a field or a word of a choice; `field` is the one that it is, or that has the word. */
  | {
      readonly kind: 'symbol'
      readonly symbol: ModelSymbol
      readonly name: string
      readonly field: AnyField | undefined
      /** True for a value, which stands for its field but does not name it. */
      readonly isValue?: true
    }
  | { readonly kind: 'heading'; readonly entry: LinkedEntry; readonly heading: BodyHeading }
  /** Relative to the content folder. */
  | { readonly kind: 'file'; readonly path: string }
)

/** What a position means: of a reference or a link the entry, of a key its field, of a word of a choice that word. */
export async function findMeaning(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<Meaning | undefined> {
  const look = lookAt(editorSite, position)
  if (!look) return meaningOfName(editorSite, position, around)
  if (look.part.isBody)
    return (
      meaningOfLink(editorSite, position) ??
      meaningOfUse(editorSite, position) ??
      (await meaningOfHeading(editorSite, position))
    )
  const { cursor, places } = look
  if (!cursor || cursor.token.text === '') return undefined
  for (const place of places) {
    const found = meaningOf(editorSite, { place, cursor, file: position.file })
    if (found) return found
  }
  // The key of a map of entries is the id of one.
  const named =
    cursor.part === 'key' ? entryAt(editorSite, position.file, [...cursor.path, cursor.token.text]) : undefined
  return named && { kind: 'entry', entry: named, span: cursor.token.span }
}

/** What a name in the configuration means. */
async function meaningOfName(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<Meaning | undefined> {
  const found = await findOccurrenceAt(editorSite, position, around)
  if (!found) return undefined
  const { symbol, place } = found
  const [path = ''] = symbol.split('=')
  const [owner = '', names] = path.split('.fields.')
  const field = names === undefined ? undefined : fieldOf(editorSite.model, owner, names.split('.'))?.field
  return { kind: 'symbol', symbol, name: nameOf(symbol), field, span: place.span }
}

/** The heading that a position of a body is in. */
async function meaningOfHeading(
  { site, entriesIn, contentPath }: EditorSite,
  { file, offset }: Position,
): Promise<Meaning | undefined> {
  const { bodies } = site.checked
  for (const entry of entriesIn(contentPath(file) ?? '')) {
    if (!entry.body || !bodies) continue
    await bodies.prepare([entry.body])
    const heading = bodies.headingsOf(entry.body).find(({ span }) => span[0] <= offset && offset <= span[1])
    if (heading) return { kind: 'heading', entry, heading, span: heading.span }
  }
  return undefined
}

/** What is meant in the use of a block: it, a property, or the value of one. */
function meaningOfUse(editorSite: EditorSite, { file, text, offset }: Position): Meaning | undefined {
  for (const { body } of editorSite.entriesIn(editorSite.contentPath(file) ?? '')) {
    const at = offset - (body?.startOffset ?? 0)
    const isAt = ([start, end]: Span): boolean => start <= at && at <= end
    const shift = ([start, end]: Span): Span => [start + offset - at, end + offset - at]
    for (const use of body?.summary.uses ?? []) {
      const level = use.block === undefined ? undefined : blockLevel(editorSite.model, use.block)
      if (!level || use.block === undefined) continue
      if (isAt(use.span))
        return { kind: 'symbol', symbol: level.owner, name: use.block, field: undefined, span: shift(use.span) }
      const place = use.places.find(({ key, value }) => isAt(key) || isAt(value))
      const [name, field] =
        Object.entries(level.fields).find(([one, own]) => writtenKey(one, own) === place?.name) ?? []
      if (!place || name === undefined || !field) continue
      const symbol = fieldSymbol(level.owner, [name])
      if (isAt(place.key)) return { kind: 'symbol', symbol, name, field, span: shift(place.key) }
      const span = shift(place.value)
      const written = text.slice(...span).replace(/^(["'])(.*)\1$/s, '$2')
      const entry = targetOf(editorSite, field, written)
      if (entry) return { kind: 'entry', entry, span }
      const isWord = choicesOf(field).includes(written)
      return {
        kind: 'symbol',
        symbol: isWord ? choiceSymbol(symbol, written) : symbol,
        name: isWord ? written : name,
        field,
        span,
      }
    }
  }
  return undefined
}

function meaningOfLink(editorSite: EditorSite, { file, offset }: Position): Meaning | undefined {
  const link = linksIn(editorSite, file).find(({ span }) => span[0] <= offset && offset <= span[1])
  const target = link && editorSite.site.checked.resolveLink(link.href, link.entry)
  if (!link || !target) return undefined
  const { span } = link
  if (target.kind === 'asset') return { kind: 'file', path: target.file, span }
  const entry = 'page' in target ? editorSite.find(target.page) : undefined
  return entry && { kind: 'entry', entry, span }
}

interface Asking {
  readonly place: FieldPlace
  readonly cursor: Cursor
  readonly file: string
}

function meaningOf(editorSite: EditorSite, { place, cursor, file }: Asking): Meaning | undefined {
  const { token } = cursor
  const { span } = token
  if (cursor.part === 'key') {
    for (const { level } of place.groups)
      for (const { fields } of alternativesOf(level.fields).alternatives)
        for (const [name, field] of Object.entries(fields))
          if (writtenKey(name, field) === token.text)
            return { kind: 'symbol', symbol: fieldSymbol(level.owner, [...level.names, name]), name, field, span }
    return undefined
  }
  if (place.blocks.includes(token.text))
    return { kind: 'symbol', symbol: blockSymbol(token.text), name: token.text, field: undefined, span }
  const isId = idKeysOf(place.collection).includes(String(cursor.path.at(-1)))
  if (isId && place.recordPath.length + 1 === cursor.path.length) {
    const entry = entryAt(editorSite, file, place.recordPath)
    if (entry) return { kind: 'entry', entry, span }
  }
  const [own] = place.fields
  if (!own) return undefined
  for (const { field } of place.fields) {
    const entry = targetOf(editorSite, field, token.text)
    if (entry) return { kind: 'entry', entry, span }
  }
  const path = assetOf(editorSite, own.field, { text: token.text, file })
  if (path !== undefined) return { kind: 'file', path, span }
  const chosen = place.fields.find(({ field }) => choicesOf(field).includes(token.text))
  const name = String(cursor.path.findLast((step) => typeof step === 'string') ?? '')
  if (chosen)
    return {
      kind: 'symbol',
      symbol: choiceSymbol(chosen.symbol, token.text),
      name: token.text,
      field: chosen.field,
      span,
    }
  return { kind: 'symbol', symbol: own.symbol, name, field: own.field, span, isValue: true }
}

/** The entry at a path of a file. */
function entryAt(
  { entriesIn, contentPath }: EditorSite,
  file: string,
  path: readonly PathSegment[],
): LinkedEntry | undefined {
  return entriesIn(contentPath(file) ?? '').find(({ recordPath }) => recordPath.join('\n') === path.join('\n'))
}

/** The entry that a reference leads to, by what it says. */
function targetOf({ site }: Pick<EditorSite, 'site'>, field: AnyField, text: string): LinkedEntry | undefined {
  const { item, alternatives = [] } = childrenOf(field)
  if (item) return targetOf({ site }, item, text)
  for (const one of alternatives) {
    const found = targetOf({ site }, one, text)
    if (found) return found
  }
  const { targets = [], by, through } = leadingOf(field) ?? {}
  if (by === undefined || through !== undefined) return undefined
  for (const { collection, id } of readAddress(text, targets.length > 1, targets))
    for (const holder of site.checked.collections)
      if (holder.collection.name === collection) {
        const found = holder.entries.find(
          (entry) => (by === 'id' ? entry.id : by === 'slug' ? entry.slug : entry.data?.[by]) === id,
        )
        if (found) return found
      }
  return undefined
}

/** The file that a field names, relative to the content folder. */
function assetOf(
  { site, contentPath }: EditorSite,
  field: AnyField,
  { text, file }: { readonly text: string; readonly file: string },
): string | undefined {
  const own = field.kind === 'list' ? (childrenOf(field).item ?? field) : field
  if (own.kind !== 'image' && own.kind !== 'file') return undefined
  const answer = site.checked.asset(text, contentPath(file) ?? '')
  return 'facts' in answer ? answer.facts.file : undefined
}
