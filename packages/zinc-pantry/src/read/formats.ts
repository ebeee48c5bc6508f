import type { FormatName } from '../values/format-names.ts'
import { type CsvOptions, readCsv } from './csv.ts'
import type { ReadDocument, ReadResult, SourceText } from './document.ts'
import { readMarkdown } from './front-matter.ts'
import { readJson, reopenJson } from './json.ts'
import { readJsonLines } from './json-lines.ts'
import { readJsonc } from './jsonc.ts'
import { readToml } from './toml.ts'
import { readYaml } from './yaml.ts'

/** One file format: the endings it has and the reader for it. */
export interface Format {
  readonly name: FormatName
  readonly extensions: readonly string[]
  /** True where a file can hold many entries; a Markdown file is always one. */
  readonly canHoldMany: boolean
  /** True where a file always holds many entries. */
  readonly alwaysMany?: boolean
  /** True where all values are texts that the fields give types to. */
  readonly hasCells?: boolean
  /** True where a value can be put into quotes, or taken out of them, to change its type. */
  readonly hasQuotes: boolean
  read(source: SourceText, options: CsvOptions): ReadResult
  /** The same as `read` for the places in a text alone, where that takes less. */
  reopen?(source: SourceText): ReadDocument
}

/** Opens a text that was read before, for the places in it; undefined where it can no longer be read. */
export const reopenText = (format: Format, source: SourceText, options: CsvOptions): ReadDocument | undefined =>
  format.reopen?.(source) ?? format.read(source, options).document

/** Endings with their dots that are read as a format other than their own, as written and in lower case. */
export type Endings = ReadonlyMap<string, FormatName>

const frontMatter = { canHoldMany: false, hasQuotes: true, read: readMarkdown } as const
const data = { canHoldMany: true, hasQuotes: true } as const
const table = { canHoldMany: true, alwaysMany: true, hasCells: true, hasQuotes: false } as const

/** Every format, in the order of the documents. */
const formats: readonly Format[] = [
  { name: 'markdown', extensions: ['.md'], ...frontMatter },
  { name: 'mdx', extensions: ['.mdx'], ...frontMatter },
  { name: 'yaml', extensions: ['.yaml', '.yml'], ...data, read: (source) => readYaml(source) },
  { name: 'json', extensions: ['.json', '.geojson'], ...data, read: readJson, reopen: reopenJson },
  { name: 'jsonc', extensions: ['.jsonc'], ...data, read: readJsonc },
  { name: 'jsonl', extensions: ['.jsonl', '.ndjson'], ...data, alwaysMany: true, read: readJsonLines },
  { name: 'toml', extensions: ['.toml'], ...data, read: (source) => readToml(source) },
  { name: 'csv', extensions: ['.csv'], ...table, read: readCsv },
  {
    name: 'tsv',
    extensions: ['.tsv', '.tab'],
    ...table,
    read: (source, { delimiter = '\t', ...options }) => readCsv(source, { ...options, delimiter }),
  },
]

const byName = new Map(formats.map((format) => [format.name, format] as const))
const byExtension = new Map(
  formats.flatMap((format) => format.extensions.map((extension) => [extension, format] as const)),
)

/** The endings of all formats, with those that a site gives to them. */
export const extensionsOf = (endings: Endings): readonly string[] => [
  ...new Set([...byExtension.keys(), ...endings.keys()]),
]

/** The endings of files with text below their front matter. */
export const writtenEndingsOf = (endings: Endings): readonly string[] =>
  extensionsOf(endings).filter((extension) => formatOfExtension(extension, endings)?.canHoldMany === false)

/** The ending of a file's name with its dot, in lower case; empty when it has none. */
export function extensionOf(file: string): string {
  const name = file.slice(file.lastIndexOf('/') + 1)
  const dot = name.lastIndexOf('.')
  return dot <= 0 ? '' : name.slice(dot).toLowerCase()
}

/** The format of a file by its ending, or undefined when there is no reader for it. */
export const formatOf = (file: string, endings: Endings): Format | undefined =>
  formatOfExtension(extensionOf(file), endings)

function formatOfExtension(extension: string, endings: Endings): Format | undefined {
  const name = endings.get(extension)
  return name === undefined ? byExtension.get(extension) : byName.get(name)
}
