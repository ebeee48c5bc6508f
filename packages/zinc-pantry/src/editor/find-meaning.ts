import {
  choiceSymbol,
  choicesOf,
  fieldOf,
  fieldSymbol,
  type ModelSymbol,
  type Owner,
  wordsOf,
} from '../change/model-names.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { AnyField } from '../schema/any-field.ts'
import { alternativesOf } from '../schema/fields/variant.ts'
import { childrenOf, leadingOf } from '../schema/kinds.ts'
import { idKeysOf } from '../schema/naming-rule.ts'
import { readAddress } from '../schema/read-address.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { EditorSite } from './editor-site.ts'
import type { Cursor } from './find-cursor.ts'
import type { FieldPlace } from './find-field.ts'
import { linksIn, lookAt, type Position } from './look-at.ts'

/** A thing of the site that a position means. */
export type Meaning = { readonly span: Span } & (
  | { readonly kind: 'entry'; readonly entry: LinkedEntry }
  | { readonly kind: 'field'; readonly symbol: ModelSymbol; readonly name: string; readonly field: AnyField }
  | { readonly kind: 'choice'; readonly symbol: ModelSymbol; readonly name: string; readonly field: AnyField }
  /** Relative to the content folder. */
  | { readonly kind: 'file'; readonly path: string }
)

/** What a position means: of a reference or a link the entry, of a key its field, of a word of a choice that word. */
export function findMeaning(editorSite: EditorSite, position: Position): Meaning | undefined {
  const look = lookAt(editorSite, position)
  if (!look) return undefined
  if (look.part.isBody) return meaningOfLink(editorSite, position)
  const { cursor, places } = look
  if (!cursor || cursor.token.text === '') return undefined
  for (const place of places) {
    const found = meaningOf(editorSite, { place, cursor, file: position.file })
    if (found) return found
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
            return { kind: 'field', symbol: fieldSymbol(level.owner, [...level.names, name]), name, field, span }
    return undefined
  }
  const [own] = place.fields
  if (!own) return undefined
  const idKeys = idKeysOf(place.collection)
  if (place.recordPath.length + 1 === cursor.path.length && idKeys.includes(String(cursor.path.at(-1)))) {
    const entry = entryOf(editorSite, { place, file })
    if (entry) return { kind: 'entry', entry, span }
  }
  for (const { field } of place.fields) {
    const entry = targetOf(editorSite, field, token.text)
    if (entry) return { kind: 'entry', entry, span }
  }
  const path = assetOf(editorSite, own.field, { text: token.text, file })
  if (path !== undefined) return { kind: 'file', path, span }
  const chosen = place.fields.find(({ field }) => choicesOf(field).includes(token.text))
  const name = String(cursor.path.findLast((step) => typeof step === 'string') ?? '')
  if (chosen)
    return { kind: 'choice', symbol: choiceSymbol(chosen.symbol, token.text), name, field: chosen.field, span }
  return { kind: 'field', symbol: own.symbol, name, field: own.field, span }
}

/** The entry of a place in a file. */
function entryOf(
  { entriesIn, contentPath }: EditorSite,
  { place, file }: Pick<Asking, 'place' | 'file'>,
): LinkedEntry | undefined {
  const path = place.recordPath.join('\n')
  return entriesIn(contentPath(file) ?? '').find(
    (entry) => entry.collection === place.collection.name && entry.recordPath.join('\n') === path,
  )
}

/** The entry that a reference leads to, by what it says. */
export function targetOf({ site }: Pick<EditorSite, 'site'>, field: AnyField, text: string): LinkedEntry | undefined {
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

/** A symbol of the model as a target of changes: `huts.water.source`. */
export const targetWords = (symbol: ModelSymbol): string => wordsOf(symbol)

/** The field of a symbol. */
export const fieldAt = (editorSite: EditorSite, owner: Owner, names: readonly string[]): AnyField | undefined =>
  fieldOf(editorSite.model, owner, names)?.field
