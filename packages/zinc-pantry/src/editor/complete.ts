import type { WrittenField } from '../change/written-fields.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { ListField } from '../schema/fields/list.ts'
import type { Children } from '../schema/kind.ts'
import { childrenOf } from '../schema/kinds.ts'
import type { FormatName } from '../values/format-names.ts'
import { offerInBody } from './complete-body.ts'
import { offerKeys } from './complete-keys.ts'
import { offerValues } from './complete-values.ts'
import type { EditorSite } from './editor-site.ts'
import type { FieldPlace } from './find-field.ts'
import { type Token, tokenOf } from './find-token.ts'
import { lineStartOf } from './line-start.ts'
import { type Look, lookAt, type Position } from './look-at.ts'
import type { Offer } from './offer.ts'

/** What may be written at a position, with what fits there in front. `now` is the present moment as an instant in UTC. */
export function complete(editorSite: EditorSite, position: Position, now: string): readonly Offer[] {
  const look = lookAt(editorSite, position)
  if (!look) return []
  if (look.part.isBody) return offerInBody(editorSite, position, look)
  return look.places.flatMap((place) => offerAt(editorSite, { position, look, place, now }))
}

interface Asking {
  readonly position: Position
  readonly look: Look
  readonly place: FieldPlace
  readonly now: string
}

function offerAt(editorSite: EditorSite, { position, look, place, now }: Asking): Offer[] {
  const { cursor, part } = look
  if (!cursor) return []
  const { token } = cursor
  const lineStart = lineStartOf(position.text, token.span[0])
  const indent = ' '.repeat(token.span[0] - lineStart)
  const isOwnLine = position.text.slice(lineStart, token.span[0]).trim() === ''
  const layout = { format: part.format, indent }
  const isJson = /^json/.test(part.format)
  const isTaking =
    part.format === 'yaml' && !token.isInFlow && !token.isKey && takesNext(position.text, token.span[1], indent.length)
  const ofGroups = (isTaking ? [] : place.groups)
    .flatMap((group) => offerKeys(group, token, layout))
    .map((offer) => (isJson && !token.isKey ? withCommas(offer, position.text) : offer))
  const ofBlocks = place.blocks.map(
    (name): Offer => ({ label: name, kind: 'block', text: name, span: token.span, sought: name }),
  )
  const isTable = part.format === 'csv' || part.format === 'tsv'
  const own = place.fields.filter((one) => isWrittenSo(one, place.fields, isTable))
  const ofFields = own.flatMap((one) => {
    const { fields, blocks } = childrenOf(one.field)
    // Nothing is written of a group yet: what begins is its first key.
    if (fields && part.format === 'yaml' && !token.isInFlow) {
      const [owner = '', names = ''] = one.symbol.split('.fields.')
      return offerKeys({ level: { owner, names: names.split('.'), fields }, group: {} }, token, layout)
    }
    const item = childrenOf(one.field).item
    const ofItem = one.field.kind === 'list' && item ? childrenOf(item).blocks : undefined
    if (blocks ?? ofItem)
      return offerBlocks(blocks ?? ofItem, { token, format: part.format, isItem: ofItem !== undefined, isOwnLine })
    const within = isTable && !one.hasKey ? itemAt(token, position, place.collection.cells.listSeparator) : token
    return offerValues(one, within, { editorSite, file: position.file, format: part.format, now, isOwnLine })
  })
  return [...ofGroups, ...ofBlocks, ...ofFields]
}

/** One value may stand for a list only where the list says so; in a cell of a table the items stand behind each other. */
function isWrittenSo({ field, hasKey, path }: WrittenField, all: readonly WrittenField[], isTable: boolean): boolean {
  const at = path.join('\n')
  const list = all.find((one) => one.field.kind === 'list' && one.path.join('\n') === at)
  if (!list || field.kind !== 'list')
    return !list || hasKey || isTable || (list.field as ListField).options.orOne === true
  return !isTable
}

/** The item of a list in a cell that a position is in. */
function itemAt(token: Token, { text, offset }: Position, separator: string): Token {
  const isClosed = token.span[1] - token.span[0] > token.text.length + token.quote.length
  const [start, end] = [token.span[0] + token.quote.length, token.span[1] - (isClosed ? token.quote.length : 0)]
  const before = text.slice(start, offset)
  const from = before.lastIndexOf(separator) + (before.includes(separator) ? separator.length : 0)
  const behind = text.slice(offset, end).indexOf(separator)
  const to = behind === -1 ? end : offset + behind
  const first = start + from + (/^\s*/.exec(text.slice(start + from, to))?.[0].length ?? 0)
  return tokenOf(text, [Math.min(first, offset), to], offset, { isInFlow: false, isKey: false })
}

interface BlockPlace {
  readonly token: Token
  readonly format: FormatName
  /** True where a list is begun with it. */
  readonly isItem: boolean
  readonly isOwnLine: boolean
}

/** The beginnings of the blocks that there may be. */
function offerBlocks(blocks: Children['blocks'], { token, format, isItem, isOwnLine }: BlockPlace): Offer[] {
  const { names, key } = blocks ?? { names: [], key: '' }
  const isYaml = format === 'yaml'
  const isOpen = isYaml && !token.isInFlow && (!isItem || isOwnLine)
  return names.map((name) => {
    const pair = isYaml
      ? `${key}: ${name}`
      : format === 'toml'
        ? `${key} = "${name}"`
        : `${JSON.stringify(key)}: ${JSON.stringify(name)}`
    const group = isOpen ? `${isItem ? '- ' : ''}${pair}` : `{ ${pair} }`
    const text = isItem && !isOpen ? `[${group}]` : group
    return { label: name, kind: 'block', text, span: token.span, sought: name }
  })
}

/** A pair of JSON with the commas that it needs before and behind it. */
function withCommas(offer: Offer, text: string): Offer {
  const [start, end] = offer.span
  const before = text.slice(0, start).trimEnd()
  const needsBefore = before !== '' && !/[{,]$/.test(before)
  const needsBehind = /^\s*"/.test(text.slice(end))
  const at: Span = [before.length, before.length]
  return {
    ...offer,
    text: needsBehind ? `${offer.text},` : offer.text,
    ...(needsBefore ? { commas: [{ span: at, text: ',' }] } : {}),
  }
}

/** True where a key of YAML would get what stands below it and belongs to the key above. */
function takesNext(text: string, end: number, indent: number): boolean {
  const next = /^[^\r\n]*(?:\r\n|\n|\r)(?:[ \t]*(?:\r\n|\n|\r))*( *)(-\s)?(?=\S)/.exec(text.slice(end))
  if (!next) return false
  const [, spaces = '', item] = next
  return spaces.length > indent || (spaces.length === indent && item !== undefined)
}
