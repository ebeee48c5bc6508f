import type { PathSegment } from '../read/document.ts'
import { type EditedSource, type TextEdit, withEdits } from './edited-source.ts'
import { commaBefore, itemLineStart } from './line-places.ts'
import { proposeTableRemoval } from './remove-table.ts'

/** The edit of a text that takes an item out of a list, or a row out of a table; undefined where a person has to do it. */
export function removeItem(source: EditedSource, path: readonly PathSegment[]): TextEdit | undefined {
  const edit = proposeRemoval(source, path)
  const after = edit && withEdits(source, [edit])
  if (!after) return undefined
  const wanted = withoutItem(source.document.value, path)
  return JSON.stringify(after.document.value) === JSON.stringify(wanted) ? edit : undefined
}

function proposeRemoval(source: EditedSource, path: readonly PathSegment[]): TextEdit | undefined {
  const { text, document, format } = source
  const [start, end] = document.locate(path, 'value')
  if (format.name === 'toml') {
    const table = proposeTableRemoval(source, path)
    if (table) return table
  }
  const isLine = format.hasCells || format.name === 'jsonl'
  const lineStart = isLine ? text.lastIndexOf('\n', start - 1) + 1 : itemLineStart(text, start)
  if (lineStart !== undefined) {
    const stop = text[end - 1] === '\n' ? end - 1 : end
    const line = /^[^\n]*\n?/.exec(text.slice(stop))?.[0].length ?? 0
    return { span: [lineStart, stop + line], text: '' }
  }
  const behind = /^\s*,\s*/.exec(text.slice(end))
  if (behind) return { span: [start, end + behind[0].length], text: '' }
  const before = commaBefore(text, start)
  return before === undefined ? undefined : { span: [before, end], text: '' }
}

/** A copy of a value without the item at a path. */
function withoutItem(value: unknown, [step, ...rest]: readonly PathSegment[]): unknown {
  if (Array.isArray(value))
    return rest.length === 0
      ? value.filter((_, at) => at !== step)
      : value.map((item, at) => (at === step ? withoutItem(item, rest) : item))
  const group = value as Readonly<Record<PathSegment, unknown>>
  return step === undefined ? value : { ...group, [step]: withoutItem(group[step], rest) }
}
