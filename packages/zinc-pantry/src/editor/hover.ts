import { blockSymbol, collectionSymbol, type ModelSymbol } from '../change/model-names.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import { plural } from '../diagnostics/words.ts'
import { qualifiedId } from '../link/pages.ts'
import type { Surrounding } from './configuration-names.ts'
import { describeEntry, showPicture } from './describe-entry.ts'
import { describeField, expectedWithItems } from './describe-field.ts'
import type { EditorSite } from './editor-site.ts'
import { findMeaning } from './find-meaning.ts'
import type { Position } from './look-at.ts'

/** What there is to say of a position. */
export interface Hover {
  readonly span: Span
  /** In Markdown. */
  readonly words: string
}

/** Describes what is at a position: a field, the entry that a reference or a link leads to, a file. */
export async function hover(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<Hover | undefined> {
  const meaning = await findMeaning(editorSite, position, around)
  if (!meaning) return undefined
  const { span } = meaning
  switch (meaning.kind) {
    case 'entry':
      return { span, words: describeEntry(editorSite, meaning.entry) }
    case 'heading':
      return { span, words: `\`#${meaning.heading.id}\` of ${qualifiedId(meaning.entry)}` }
    case 'file':
      return { span, words: describeFile(editorSite, meaning.path) }
    case 'symbol':
      return {
        span,
        words: meaning.field ? describeField(meaning.name, meaning.field) : describePart(editorSite, meaning.symbol),
      }
  }
}

/** Describes a collection or a block. */
function describePart({ model, site }: EditorSite, symbol: ModelSymbol): string {
  const holder = site.checked.collections.find(({ collection }) => collectionSymbol(collection.name) === symbol)
  if (holder) {
    const { name, description } = holder.collection
    return [`**${name}** · ${plural(holder.entries.length, 'entry', 'entries')}`, description ?? []].flat().join('\n\n')
  }
  const [block, fields] = [...model.blocks].find(([name]) => blockSymbol(name) === symbol) ?? ['', {}]
  const lines = Object.entries(fields).map(([name, field]) => `- ${name}: ${expectedWithItems(field)}`)
  return [`**${block}** · a block`, ...(lines.length > 0 ? [lines.join('\n')] : [])].join('\n\n')
}

function describeFile(editorSite: EditorSite, path: string): string {
  const answer = editorSite.site.checked.asset(`/${path}`, '')
  if (!('facts' in answer)) return path
  const { sizeBytes, width, height } = answer.facts
  const size = `${Math.max(1, Math.round(sizeBytes / 1024))} KB`
  const picture = width ? showPicture(editorSite, path).map((one) => `\n\n${one}`) : []
  return `**${path}** · ${width && height ? `${width} × ${height}, ` : ''}${size}${picture.join('')}`
}
