import type { SeenFile } from '../../change/infer/group-files.ts'
import type { Suspicion } from '../../change/infer/guess.ts'
import { messageOf } from '../../diagnostics/diagnostic.ts'
import { isGroup } from '../../diagnostics/own-key.ts'
import type { Host } from '../../host/host.ts'
import { formatOf } from '../../read/formats.ts'
import { readText } from '../read-text.ts'

const NO_ENDINGS = new Map()

/** Reads files of the content without any schema; those that cannot be read are told. */
export function readFiles(
  host: Host,
  content: string,
  paths: readonly string[],
): { readonly files: readonly SeenFile[]; readonly unread: readonly Suspicion[] } {
  const unread: Suspicion[] = []
  const files = paths.flatMap((path): SeenFile[] => {
    const format = formatOf(path, NO_ENDINGS)
    const file = `${content}/${path}`
    const text = format && readText(host, file)
    const { document, body, diagnostics } =
      !format || text === undefined ? { document: undefined, diagnostics: [] } : format.read({ file, text }, {})
    if (!format || !document) {
      const [first] = diagnostics
      unread.push({ file: path, words: `it cannot be read${first ? `: ${messageOf(first)}` : ''}` })
      return []
    }
    return [
      {
        path,
        format: format.name,
        value: format.hasCells ? typeCells(splitLists(document.value)) : document.value,
        canHaveBody: !format.canHoldMany,
        alwaysMany: format.alwaysMany === true,
        body: body?.text,
      },
    ]
  })
  return { files, unread }
}

const LONGEST_ITEM = 40

/** The cells of columns that hold several short texts, taken apart. */
function splitLists(rows: unknown): unknown {
  if (!Array.isArray(rows)) return rows
  const groups = rows.filter(isGroup)
  const columns = new Set(groups.flatMap(Object.keys))
  const lists = [...columns].filter((column) => {
    const cells = groups.flatMap((row) => (typeof row[column] === 'string' && row[column] !== '' ? [row[column]] : []))
    const isShort = (cell: string): boolean =>
      cell.split(';').every((item) => item.trim() !== '' && item.length <= LONGEST_ITEM)
    return cells.some((cell) => cell.includes(';')) && cells.every(isShort)
  })
  if (lists.length === 0) return rows
  return rows.map((row: unknown) => {
    if (!isGroup(row)) return row
    const split = lists.flatMap((column) => {
      const cell = row[column]
      return typeof cell === 'string' && cell !== ''
        ? [[column, cell.split(';').map((item) => item.trim())] as const]
        : []
    })
    return { ...row, ...Object.fromEntries(split) }
  })
}

/** The texts of cells as what they most likely are; empty ones are none. */
function typeCells(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(typeCells)
  if (isGroup(value)) return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, typeCells(inner)]))
  if (typeof value !== 'string') return value
  const text = value.trim()
  if (text === '') return null
  if (/^(?:true|false)$/i.test(text)) return text.toLowerCase() === 'true'
  return /^-?(?:0|[1-9]\d{0,14})(?:\.\d+)?$/.test(text) ? Number(text) : text
}

/** True for a file that can hold records. */
export const isReadable = (path: string): boolean => formatOf(path, NO_ENDINGS) !== undefined
