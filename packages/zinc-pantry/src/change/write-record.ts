import { stringify as stringifyToml } from 'smol-toml'
import { Document, isMap, isPair, isScalar, type Pair, visit } from 'yaml'
import { isGroup } from '../diagnostics/own-key.ts'
import type { FormatName } from '../values/format-names.ts'
import { withoutNull } from './without-null.ts'
import { writeValue } from './write-value.ts'

/** A record that is not there yet. */
export interface NewRecord {
  /** The values by their keys as they are written, in order; null for what has to be filled in. */
  readonly value: Readonly<Record<string, unknown>>
  /** What is said of some keys, by their dotted paths. */
  readonly comments: ReadonlyMap<string, string>
}

/** How texts are written that have no layout of their own yet. */
export interface Layout {
  readonly lineEnd: string
  /** Spaces for one step inwards. */
  readonly indent: string
}

/** Longer lists have a line for each item. */
const LINE = 80

/** The record as the whole of a file, with an empty line for the body where there can be one. */
export function writeDocument(record: NewRecord, format: FormatName, layout: Layout, hasBody = false): string {
  const text = (() => {
    switch (format) {
      case 'json':
      case 'jsonc':
        return `${writeJson(record, format, layout)}\n`
      case 'toml':
        return writeToml(record)
      case 'markdown':
      case 'mdx':
        return `---\n${writeYaml(record, layout)}---\n${hasBody ? '\n' : ''}`
      default:
        return writeYaml(record, layout)
    }
  })()
  return layout.lineEnd === '\n' ? text : text.replaceAll('\n', layout.lineEnd)
}

/** The record as a block of YAML, with lines of its own. */
export function writeYaml({ value, comments }: NewRecord, { indent }: Pick<Layout, 'indent'>): string {
  const document = new Document(value)
  visit(document, {
    Seq: (_, node) => {
      const items = node.items.every(
        (item) => isScalar(item) || (isMap(item) && item.items.every((one) => isScalar(one.value))),
      )
      if (items && JSON.stringify(node.toJSON()).length < LINE && !node.items.some(isMap)) node.flow = true
    },
    Map: (_, node) => {
      if (node.items.length === 0) node.flow = true
    },
    Scalar: (at, node) => {
      if (at === 'key') return
      // What readers of older rules take for true or false.
      if (typeof node.value === 'string' && /^(?:yes|no|on|off|y|n)$/i.test(node.value)) node.type = 'QUOTE_SINGLE'
    },
    Pair: (_, pair, path) => {
      const comment = comments.get(pathOf(pair, path))
      if (comment !== undefined && isScalar(pair.key)) pair.key.commentBefore = ` ${comment}`
    },
  })
  return document
    .toString({ lineWidth: 0, nullStr: '', indent: indent.length || 2, flowCollectionPadding: false })
    .replace(/(?<! ) +$/gm, '')
}

const keyOf = (pair: Pair): string => (isScalar(pair.key) ? String(pair.key.value) : '')

/** The dotted path of a key; items of lists add no step. */
const pathOf = (pair: Pair, path: readonly unknown[]): string =>
  [...path.filter(isPair), pair].map((one) => keyOf(one as Pair)).join('.')

function writeJson(
  { value, comments }: NewRecord,
  format: 'json' | 'jsonc',
  { indent }: Pick<Layout, 'indent'>,
): string {
  if (format === 'json' || comments.size === 0) return JSON.stringify(value, null, indent)
  const lines = Object.entries(value).map(([key, inner]) => {
    const comment = comments.get(key)
    const text = JSON.stringify(inner, null, indent).replaceAll('\n', `\n${indent}`)
    return `${comment === undefined ? '' : `${indent}// ${comment}\n`}${indent}${JSON.stringify(key)}: ${text}`
  })
  return `{\n${lines.join(',\n')}\n}`
}

/** The record in TOML: single values first, then tables; what has to be filled in is a comment. */
export function writeToml({ value, comments }: NewRecord, name?: string): string {
  const isTable = (inner: unknown): boolean => isGroup(inner) || (Array.isArray(inner) && inner.some(isGroup))
  const entries = Object.entries(value).sort(([, one], [, other]) => Number(isTable(one)) - Number(isTable(other)))
  const lines = entries.map(([key, inner]) => {
    const comment = comments.get(key)
    const said = comment === undefined ? '' : `# ${comment}\n`
    if (inner === null || inner === undefined) return `${said}# ${key} = \n`.replace(/ \n$/, '\n')
    const holder = name !== undefined && isTable(inner) ? { [name]: { [key]: inner } } : { [key]: inner }
    return `${said}${stringifyToml(withoutNull(holder) as Record<string, unknown>).trimEnd()}\n`
  })
  return lines.join('')
}

/** The record on one line, as in a list of such. */
export const writeOnLine = ({ value }: NewRecord, format: FormatName): string | undefined =>
  writeValue(value, undefined, format)
