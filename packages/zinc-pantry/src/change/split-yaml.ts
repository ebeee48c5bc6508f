import { valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment, ReadDocument } from '../read/document.ts'
import { readYaml } from '../read/yaml.ts'
import { canonical } from './edit-value.ts'
import { writeScalar } from './write-scalar.ts'

/**
 * The text of a record of a map of YAML as a file of its own, with its comments and those right above it; undefined where that is not
 * the same data.
 */
export function splitYaml(
  { text, document }: { readonly text: string; readonly document: ReadDocument },
  path: readonly PathSegment[],
): string | undefined {
  const [keyStart] = document.locate(path, 'key')
  const [start, end] = document.locate(path, 'value')
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  // A record on the line of its key has no lines of its own.
  if (lineStart <= keyStart) return undefined
  const lines = text.slice(text.indexOf('\n', keyStart) + 1, end).split(/\r?\n/)
  const indent = /^ */.exec(text.slice(lineStart, start))?.[0] ?? ''
  const own = lines.map((line) => (line.startsWith(indent) ? line.slice(indent.length) : line.trimStart()))
  const written = `${[...commentsAbove(text, keyStart), ...own].join('\n').trimEnd()}\n`
  const read = readYaml({ file: '', text: written }).document
  return read && canonical(read.value) === canonical(valueAt(document.value, path)) ? written : undefined
}

/** The comments on the lines right above a place. */
function commentsAbove(text: string, offset: number): readonly string[] {
  const comments: string[] = []
  let at = text.lastIndexOf('\n', offset - 1) + 1
  while (at > 0) {
    const start = text.lastIndexOf('\n', at - 2) + 1
    const line = text.slice(start, at).replace(/\r?\n$/, '')
    if (!/^\s*#/.test(line)) break
    comments.unshift(line)
    at = start
  }
  return comments
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
