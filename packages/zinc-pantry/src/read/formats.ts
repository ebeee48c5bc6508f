import { type CsvOptions, readCsv } from './csv.ts'
import type { ReadResult, SourceText } from './document.ts'
import { readMarkdown } from './front-matter.ts'
import { readJson } from './json.ts'
import { readJsonLines } from './json-lines.ts'
import { readJsonc } from './jsonc.ts'
import { readToml } from './toml.ts'
import { readYaml } from './yaml.ts'

/** One file format: the endings it has and the reader for it. */
export interface Format {
  readonly extensions: readonly string[]
  /** True where a file can hold many entries; a Markdown file is always one. */
  readonly canHoldMany: boolean
  /** True where a file always holds many entries. */
  readonly alwaysMany?: boolean
  /** True where all values are texts that the fields give types to. */
  readonly hasCells?: boolean
  read(source: SourceText, options: CsvOptions): ReadResult
}

/** Every format, in the order of the documents. */
const formats: readonly Format[] = [
  { extensions: ['.md', '.mdx'], canHoldMany: false, read: readMarkdown },
  { extensions: ['.yaml', '.yml'], canHoldMany: true, read: (source) => readYaml(source) },
  { extensions: ['.json'], canHoldMany: true, read: readJson },
  { extensions: ['.jsonc'], canHoldMany: true, read: readJsonc },
  { extensions: ['.jsonl', '.ndjson'], canHoldMany: true, alwaysMany: true, read: readJsonLines },
  { extensions: ['.toml'], canHoldMany: true, read: (source) => readToml(source) },
  { extensions: ['.csv'], canHoldMany: true, alwaysMany: true, hasCells: true, read: readCsv },
]

const byExtension = new Map(
  formats.flatMap((format) => format.extensions.map((extension) => [extension, format] as const)),
)

/** The endings of all formats. */
export const extensions: readonly string[] = [...byExtension.keys()]

/** The ending of a file's name with its dot, in lower case; empty when it has none. */
export function extensionOf(file: string): string {
  const name = file.slice(file.lastIndexOf('/') + 1)
  const dot = name.lastIndexOf('.')
  return dot <= 0 ? '' : name.slice(dot).toLowerCase()
}

/** The format of a file by its ending, or undefined when there is no reader for it. */
export const formatOf = (file: string): Format | undefined => byExtension.get(extensionOf(file))
