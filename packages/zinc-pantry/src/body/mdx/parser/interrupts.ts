import { doubt } from '../doubt.ts'
import { readFlow } from './flow.ts'
import { beginsNote, isThematicBreak, readAtxHeading, readFence, readMarker } from './starts.ts'
import { readAlignment } from './tables.ts'
import { skipSpaces, type View } from './view.ts'

/** True for a line that ends a paragraph in front of it, or one in a container or a table in front of it, which no table does. */
export function interrupts(view: View, line: number, mayBeTable: boolean): boolean {
  const { text } = view
  const { start, end } = view.line(line)
  const first = skipSpaces(text, start, end)
  const code = text.charCodeAt(first)
  if (code === 62) return true
  if (code === 35 && readAtxHeading(text, first, end)) return true
  if (isThematicBreak(text, first, end)) return true
  if ((code === 96 || code === 126) && readFence(text, first, end)) return true
  if (code === 60 || code === 123) {
    const flow = readFlow(view, first)
    if (flow && flow.next > line + 1 && view.line(line + 1).column > 1) doubt('code of many lines behind a paragraph')
    if (flow) return true
  }
  if (beginsNote(text, first)) return true
  const marker = readMarker(text, first, end)
  if (
    marker &&
    marker.content < end &&
    (!marker.isOrdered || text.slice(first, first + 2) === `1${String.fromCharCode(marker.sign)}`)
  )
    return true
  const isTable = mayBeTable && readAlignment(view, line) !== undefined
  if (isTable && marker) doubt('a row that may be an item')
  return isTable
}
