import { componentName } from '../body/component-name.ts'
import { labelOf } from '../change/entry-choices.ts'
import { relativePath } from '../change/rename-path.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import { pageAddress, qualifiedId } from '../link/pages.ts'
import type { AnyField } from '../schema/any-field.ts'
import { kindOf } from '../schema/kinds.ts'
import { writtenKey } from '../schema/written-key.ts'
import { offerValues } from './complete-values.ts'
import { describeField, expectedWithItems } from './describe-field.ts'
import type { EditorSite } from './editor-site.ts'
import { tokenOf } from './find-token.ts'
import { lineStartOf, runStartOf } from './line-start.ts'
import type { Look, Position } from './look-at.ts'
import type { Offer } from './offer.ts'

/** What is being written in a line of a body. */
interface Written {
  readonly kind: 'link' | 'heading' | 'language' | 'block' | 'property' | 'property-value'
  /** The text that is typed already. */
  readonly typed: string
  /** The name of the block, and of its property. */
  readonly block?: string
  readonly property?: string
  /** True for an element of MDX. */
  readonly isElement?: boolean
  /** The link in front of a heading. */
  readonly href?: string
}

/** What may be written in a body: where links lead, blocks with their properties, languages of code. */
export function offerInBody(editorSite: EditorSite, position: Position, { format }: Look): Offer[] {
  const { text, offset } = position
  const start = Math.max(lineStartOf(text, offset), offset - MOST_TYPED)
  const written = readLine(text.slice(start, offset), format === 'mdx')
  if (!written) return []
  const span: Span = [offset - written.typed.length, offset]
  switch (written.kind) {
    case 'link':
      return [...offerPages(editorSite, position.file, span), ...offerAssets(editorSite, position.file, span)]
    case 'heading':
      return offerHeadings(editorSite, position, { href: written.href ?? '', span })
    case 'language':
      return offerLanguages(editorSite, span)
    case 'block':
      return [...editorSite.model.blocks.keys()].map((block) => {
        const name = format === 'mdx' && written.isElement ? componentName(block) : block
        return { label: name, kind: 'block', text: name, span, sought: `${name} ${block}` }
      })
    case 'property':
      return offerProperties(editorSite, written, { span, isMdx: format === 'mdx' })
    case 'property-value':
      return offerPropertyValues(editorSite, written, position)
  }
}

/** What is typed stands within so many signs: a line can be a whole page. */
const MOST_TYPED = 2000

function readLine(line: string, isMdx: boolean): Written | undefined {
  const link = /(?:\]\(\s*<?|^\s*\[[^\]]+\]:\s*<?|(?:href|src)=["'])([^\s)>"'#]*)(#[^\s)>"']*)?$/.exec(line)
  if (link?.[2] !== undefined) return { kind: 'heading', typed: link[2].slice(1), href: link[1] ?? '' }
  if (link) return { kind: 'link', typed: link[1] ?? '' }
  const fence = /^\s*(?:`{3,}|~{3,})\s*([\w+#.-]*)$/.exec(line)
  if (fence) return { kind: 'language', typed: fence[1] ?? '' }
  const directive = /(?:^|[^\w:]):{1,3}([A-Za-z][\w-]*)?(?:\[[^\]]*\])?(\{[^{}]*)?$/.exec(line)
  const element = isMdx ? /<([A-Za-z][\w.-]*)?(\s[^<>]*)?$/.exec(line) : undefined
  const found = element ?? directive
  if (!found) return undefined
  const [, name = '', rest] = found
  if (rest === undefined) return { kind: 'block', typed: name, isElement: element !== null && element !== undefined }
  const value = /(?<![\w-])([\w-]+)=(?:["{]?)([^\s"{}]*)$/.exec(rest)
  if (value) return { kind: 'property-value', typed: value[2] ?? '', block: name, property: value[1] ?? '' }
  return { kind: 'property', typed: rest.slice(runStartOf(rest, rest.length, /[\w-]/)), block: name }
}

function offerPages(editorSite: EditorSite, file: string, span: Span): Offer[] {
  const { model, entries, contentPath } = editorSite
  const from = contentPath(file) ?? ''
  const collections = new Map(model.collections.map((one) => [one.name, one]))
  return entries.flatMap((entry): Offer[] => {
    const collection = collections.get(entry.collection)
    const address = collection && pageAddress(entry, collection)
    if (!collection || !address || 'implicit' in entry.source) return []
    const text = entry.recordPath.length === 0 ? relativePath(from, entry.source.file) : address
    const label = labelOf(entry, collection)
    return [{ label, kind: 'entry', text, span, sought: `${label} ${text} ${qualifiedId(entry)}`, detail: text }]
  })
}

function offerAssets(editorSite: EditorSite, file: string, span: Span): Offer[] {
  const { site, model, contentPath } = editorSite
  const from = contentPath(file) ?? ''
  return site.listing
    .filter((path) => !site.checked.owners.has(`${model.content}/${path}`))
    .map((path) => {
      const text = encodeURI(relativePath(from, path))
      return { label: text, kind: 'file', text, span, sought: text }
    })
}

function offerHeadings(
  { site, entriesIn, contentPath, find }: EditorSite,
  { file }: Position,
  { href, span }: { readonly href: string; readonly span: Span },
): Offer[] {
  const [own] = entriesIn(contentPath(file) ?? '')
  const target = own && href !== '' ? site.checked.resolveLink(href, own) : undefined
  const entry = href === '' ? own : target && 'page' in target ? find(target.page) : undefined
  const ids = entry?.body ? (site.checked.bodies?.idsOf(entry.body) ?? []) : []
  return ids.map((id) => ({ label: id, kind: 'heading', text: id, span, sought: id }))
}

const offerLanguages = ({ site, model }: EditorSite, span: Span): Offer[] =>
  [...new Set([...(site.checked.highlighter?.languages ?? []), ...(model.plainLanguages ?? [])])].map((name) => ({
    ...{ label: name, kind: 'word', text: name, span, sought: name },
  }))

function fieldsOf(
  { model }: EditorSite,
  block: string | undefined,
): readonly (readonly [key: string, field: AnyField])[] {
  const name = [...model.blocks.keys()].find((one) => one === block || componentName(one) === block)
  const fields = model.blocks.get(name ?? '') ?? {}
  return Object.entries(fields).map(([name, field]) => [writtenKey(name, field), field])
}

function offerProperties(
  editorSite: EditorSite,
  { block }: Written,
  { span, isMdx }: { readonly span: Span; readonly isMdx: boolean },
): Offer[] {
  return fieldsOf(editorSite, block)
    .filter(([, field]) => !kindOf(field).computed)
    .map(([key, field]) => {
      const text = isMdx && field.kind !== 'text' ? `${key}={}` : `${key}=""`
      return {
        label: key,
        kind: 'key',
        text,
        span,
        sought: key,
        detail: expectedWithItems(field),
        help: () => describeField(key, field),
      }
    })
}

function offerPropertyValues(
  editorSite: EditorSite,
  { block, property, typed }: Written,
  { text, file, offset }: Position,
): Offer[] {
  const field = fieldsOf(editorSite, block).find(([key]) => key === property)?.[1]
  if (!field) return []
  const span: Span = [offset - typed.length, offset]
  const token = tokenOf(text, span, offset, { isInFlow: false, isKey: false })
  return offerValues({ field }, token, { editorSite, file, format: 'csv', now: '' })
}
