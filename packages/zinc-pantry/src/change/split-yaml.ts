import { valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { readYaml } from '../read/yaml.ts'
import { canonical } from './edit-value.ts'
import { writeScalar } from './write-scalar.ts'

/**
 * The text of a record of a map of YAML as a file of its own, with its comments and those right above it; undefined where that is not
 * the same data.
 */
export function splitYaml(text: string, path: readonly PathSegment[]): string | undefined {
  const { document } = readYaml({ file: '', text })
  if (!document) return undefined
  const [keyStart] = document.locate(path, 'key')
  const [start, end] = document.locate(path, 'value')
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  // A record on the line of its key has no lines of its own.
  if (lineStart <= keyStart) return undefined
  const lines = text.slice(text.indexOf('\n', keyStart) + 1, end).split(/\r?\n/)
  const indent = /^ */.exec(text.slice(lineStart, start))?.[0] ?? ''
  const above = text
    .slice(0, text.lastIndexOf('\n', keyStart - 1) + 1)
    .split(/\r?\n/)
    .slice(0, -1)
  const comments = above.slice(above.findLastIndex((line) => !/^\s*#/.test(line)) + 1)
  const own = lines.map((line) => (line.startsWith(indent) ? line.slice(indent.length) : line.trimStart()))
  const written = `${[...comments, ...own].join('\n').trimEnd()}\n`
  const read = readYaml({ file: '', text: written }).document
  return read && canonical(read.value) === canonical(valueAt(document.value, path)) ? written : undefined
}

/** The texts of files of YAML as a map with a key for each, with all their comments; undefined where that is not the same data. */
export function joinYaml(files: readonly { readonly key: string; readonly text: string }[]): string | undefined {
  const parts = files.map(({ key, text }) => {
    const lines = text
      .trimEnd()
      .split(/\r?\n/)
      .map((line) => (line === '' ? '' : `  ${line}`))
    return `${writeScalar('', key, 'yaml')}:\n${lines.join('\n')}\n`
  })
  const written = parts.join('\n')
  const read = readYaml({ file: '', text: written }).document
  const wanted = Object.fromEntries(files.map(({ key, text }) => [key, readYaml({ file: '', text }).document?.value]))
  return read && canonical(read.value) === canonical(wanted) ? written : undefined
}
