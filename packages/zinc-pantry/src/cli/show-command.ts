import { join, relative } from 'node:path'
import stringWidth from 'string-width'
import type { Place } from '../diagnostics/diagnostic.ts'
import { largest } from '../diagnostics/extremes.ts'
import { formatCount } from '../diagnostics/format-count.ts'
import { lineOf } from '../diagnostics/line-of.ts'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import type { PartDescription } from '../engine/describe/describe-part.ts'
import {
  type CollectionDescription,
  type Description,
  describeSite,
  type EntryDescription,
  type FieldDescription,
} from '../engine/describe/describe-site.ts'
import { createPalette } from './palette.ts'
import { refuse } from './refuse.ts'
import { writeDiagnostics } from './report.ts'
import { askSite, type CommonFlags } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** Options of `show`. */
export interface ShowFlags extends CommonFlags {
  readonly format: 'text' | 'json'
}

/** The command `show`: the model of a site, a collection or an entry. */
export async function runShow(
  target: string | undefined,
  flags: ShowFlags,
  surroundings: Surroundings,
): Promise<number> {
  const { stdout } = surroundings
  const asked = await askSite(flags, surroundings, (options) => describeSite(options, target))
  if (!asked) return exitCodes.wrongUse
  const { site, answer } = asked
  if (!('description' in answer)) return refuse(surroundings, answer.refused, answer.help)
  const { description } = answer
  if (flags.format === 'json') {
    stdout.write(`${JSON.stringify(description, null, 2)}\n`)
    return exitCodes.clean
  }
  const nameOf = (file: string): string => relative(surroundings.folder, join(site.root, file))
  const indexOf = createLineIndexes(answer.textOf)
  const placeOf = ({ file, span }: Place): string => {
    const { line, column } = indexOf(file).at(span[0])
    return `${nameOf(file)}:${line}:${column}`
  }
  stdout.write(`${write(description, createPalette(stdout, surroundings), { nameOf, placeOf }).join('\n')}\n`)
  if (description.kind === 'entry' && description.entry.problems.length > 0) {
    stdout.write('\n')
    await writeDiagnostics({ ...answer, diagnostics: description.entry.problems }, site, stdout, surroundings)
  }
  return exitCodes.clean
}

type Palette = ReturnType<typeof createPalette>

interface Places {
  nameOf(file: string): string
  placeOf(place: Place): string
}

function write(description: Description, palette: Palette, { nameOf, placeOf }: Places): string[] {
  if (description.kind === 'site') return writeCollections(description.collections, palette)
  if (description.kind === 'entry') return writeEntry(description.entry, palette, nameOf)
  if (description.kind === 'part') return writePart(description.part, palette, placeOf)
  const { collection, fields, ledFrom } = description
  const { strong, faint } = palette
  const head = `${strong(collection.name)} ${plural(collection.count, 'entry', 'entries')} ${faint(collection.files.join(', '))}`
  return [
    head.trimEnd(),
    ...(collection.description === undefined ? [] : [collection.description]),
    ...groupBySection(fields).flatMap(([section, own]) => [
      '',
      ...(section ? [strong(section)] : []),
      ...writeFields(own, palette),
    ]),
    ...(ledFrom.length > 0 ? ['', `${faint('Led to from')} ${ledFrom.join(', ')}`] : []),
  ]
}

/** A part of the model or a file, where its name stands, and what uses it. */
function writePart(
  { name, words, help, fields, declared, named, sharedWith, usedBy }: PartDescription,
  { strong, faint, place }: Palette,
  placeOf: (one: Place) => string,
): string[] {
  const block = (title: string, lines: readonly string[]): string[] =>
    lines.length === 0 ? [] : ['', strong(title), ...lines]
  return [
    `${strong(name)} ${words}${help === undefined ? '' : ` ${faint(help)}`}`,
    ...columns(fields),
    ...block(
      'Declared',
      declared.map((one) => place(placeOf(one))),
    ),
    ...block('Shares its declaration with', sharedWith),
    ...block(
      'Named by settings',
      named.map((one) => place(placeOf(one))),
    ),
    ...block('Used by', usedBy),
  ]
}

/** Things by their headings, those without one first. */
function groupBySection<Item extends { readonly section: string | undefined }>(
  items: readonly Item[],
): (readonly [string | undefined, readonly Item[]])[] {
  const sections = [...new Set([undefined, ...items.map(({ section }) => section)])]
  return sections.flatMap((section) => {
    const own = items.filter((item) => item.section === section)
    return own.length > 0 ? [[section, own] as const] : []
  })
}

function writeCollections(collections: readonly CollectionDescription[], { strong, faint }: Palette): string[] {
  const groups = groupBySection(collections)
  const lines = columns(
    groups.flatMap(([, own]) =>
      own.map(({ name, count, description = '' }) => [name, formatCount(count), faint(description)]),
    ),
  )
  return groups.flatMap(([section, own], at) => [
    ...(at > 0 ? [''] : []),
    ...(section ? [strong(section)] : []),
    ...lines.splice(0, own.length),
  ])
}

const writeFields = (fields: readonly FieldDescription[], { faint }: Palette): string[] =>
  columns(
    fields.map(({ name, expected, need, count, help = '' }) => {
      const depth = name.split('.').length - 1
      return [
        `${'  '.repeat(depth)}${name.split('.').at(-1)}`,
        shorten(expected, 46),
        need,
        formatCount(count),
        faint(help),
      ]
    }),
  )

function writeEntry(
  { name, file, address, values, refersTo, referredFrom, linkedFrom }: EntryDescription,
  { strong, faint, place }: Palette,
  nameOf: (file: string) => string,
): string[] {
  const block = (title: string, rows: readonly (readonly string[])[]): string[] =>
    rows.length === 0 ? [] : ['', strong(title), ...columns(rows)]
  return [
    `${strong(name)} ${place(nameOf(file))}${address === undefined ? '' : ` ${faint(address)}`}`,
    ...columns(values.map(([field, value]) => [field, shorten(lineOf(value))])),
    ...block(
      'Refers to',
      refersTo.map(([path, target]) => [path, target]),
    ),
    ...block(
      'Referred to from',
      referredFrom.map(([entry, path]) => [entry, faint(path)]),
    ),
    ...block(
      'Linked from',
      linkedFrom.map((entry) => [entry]),
    ),
  ]
}

const LONGEST = 90

const shorten = (text: string, longest = LONGEST): string => {
  const line = text.replace(/\s+/g, ' ').trim()
  return line.length > longest ? `${line.slice(0, longest)}…` : line
}

/** Rows in columns, each as wide as its widest cell. */
function columns(rows: readonly (readonly string[])[]): string[] {
  const widths = (rows[0] ?? []).map((_, at) => largest(rows, (row) => stringWidth(row[at] ?? '')))
  return rows.map((row) =>
    row
      .map((cell, at) => cell + ' '.repeat((widths[at] ?? 0) - stringWidth(cell)))
      .join('  ')
      .trimEnd(),
  )
}
