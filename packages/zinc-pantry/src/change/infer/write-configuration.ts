import type { Guess, GuessedCollection, GuessedField } from './guess.ts'

/** What a configuration is to say. */
export interface GuessedSite {
  readonly content: string
  readonly collections: readonly GuessedCollection[]
  /** Settings of the site beside its collections, with a comment for each. */
  readonly settings: Readonly<Record<string, { readonly value: unknown; readonly why?: string | undefined }>>
}

/** The text of a configuration, with what was seen beside each guess. */
export function writeConfiguration({ content, collections, settings }: GuessedSite): string {
  const names = constructorsOf(collections)
  const lines = [
    ...writeImport(['pantry', ...names].sort()),
    '',
    '// Written from the content as it was found: the counts beside each field say what was seen. It is yours from here on.',
    'export default pantry({',
    ...(content === 'content' ? [] : [`  content: ${quote(content)},`]),
    ...Object.entries(settings).map(
      ([name, { value, why }]) => `  ${name}: ${literal(value)},${why ? ` // ${why}` : ''}`,
    ),
    '  collections: {',
    ...collections.flatMap((one) => writeCollection(one).map((line) => `    ${line}`)),
    '  },',
    '})',
    '',
  ]
  return lines.join('\n')
}

const LINE = 100

function writeImport(names: readonly string[]): readonly string[] {
  const line = `import { ${names.join(', ')} } from 'zinc-pantry'`
  return line.length <= LINE ? [line] : ['import {', ...names.map((name) => `  ${name},`), "} from 'zinc-pantry'"]
}

/** The lines of a collection, as they stand in a configuration, without indentation of their own. */
export function writeCollection({ name, files, settings, fields, why }: GuessedCollection): readonly string[] {
  const [first, ...others] = files
  return [
    ...(why === '' ? [] : [`// ${why}`]),
    `${key(name)}: {`,
    `  files: ${others.length === 0 ? quote(first ?? '') : literal(files)},`,
    ...Object.entries(settings).map(([setting, value]) => `  ${setting}: ${literal(value)},`),
    ...(fields.length === 0
      ? ['  fields: {},']
      : ['  fields: {', ...fields.flatMap((field) => writeField(field).map((line) => `    ${line}`)), '  },']),
    '},',
  ]
}

/** The constructors that some collections use. */
export function constructorsOf(collections: readonly Pick<GuessedCollection, 'fields'>[]): readonly string[] {
  const found = new Set<string>()
  const visit = ({ kind, items = [], fields = [] }: Guess): void => {
    found.add(kind)
    for (const item of items) visit(item)
    for (const { guess } of fields) visit(guess)
  }
  for (const { fields } of collections) for (const { guess } of fields) visit(guess)
  return [...found].sort()
}

/** A field as it stands in a set of fields, with a comment behind it; groups have a line for each field. */
function writeField({ name, key: written, guess, count, total, isRequired }: GuessedField): readonly string[] {
  const options = {
    ...guess.options,
    ...(isRequired ? {} : { optional: true }),
    ...(written === name ? {} : { writtenAs: written }),
  }
  const said = [`${count} of ${total}`, ...whyOf(guess)].join(', ')
  const lines = writeGuess({ ...guess, options })
  const [first = '', ...rest] = lines
  const line = `${key(name)}: ${first}, // ${said}`
  if (rest.length === 0) return line.length <= LINE ? [line] : [`// ${said}`, `${key(name)}: ${first},`]
  return [`// ${said}`, `${key(name)}: ${first}`, ...rest.slice(0, -1), `${rest.at(-1)},`]
}

/** What was seen of a guess, and of the item of a list. */
const whyOf = ({ why, items = [] }: Guess): readonly string[] => [
  ...(why === undefined ? [] : [why]),
  ...items.flatMap(whyOf),
]

function writeGuess({ kind, words, fields, items = [], options = {} }: Guess): readonly string[] {
  const own = Object.keys(options).length === 0 ? [] : [literal(options)]
  if (kind === 'group') {
    const inner = (fields ?? []).flatMap((field) => writeField(field).map((line) => `  ${line}`))
    return ['group({', ...inner, own.length === 0 ? '})' : `}, ${own[0]})`]
  }
  if (kind === 'either') {
    const [first, ...others] = items.map(writeGuess)
    const all = [first ?? [], ...others]
    if (all.every((lines) => lines.length === 1))
      return [`either([${all.map(([line]) => line).join(', ')}]${tail(own)})`]
    const inner = all.flatMap((lines) => lines.map((line, at) => `  ${line}${at === lines.length - 1 ? ',' : ''}`))
    return ['either([', ...inner, `]${tail(own)})`]
  }
  if (kind === 'list' || kind === 'map') {
    const lines = writeGuess(items[0] ?? { kind: 'anything' })
    if (lines.length === 1) return [`${kind}(${lines[0]}${tail(own)})`]
    return [`${kind}(${lines[0]}`, ...lines.slice(1, -1), `${lines.at(-1)}${tail(own)})`]
  }
  const [first, ...others] = words ?? []
  const given = words === undefined ? [] : [kind === 'ref' && others.length === 0 ? quote(first ?? '') : literal(words)]
  return [`${kind}(${[...given, ...own].join(', ')})`]
}

const tail = (own: readonly string[]): string => (own.length === 0 ? '' : `, ${own[0]}`)

const quote = (text: string): string =>
  `'${text.replaceAll('\\', '\\\\').replaceAll("'", "\\'").replaceAll('\n', '\\n')}'`

const key = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : quote(name))

/** A value as code of the configuration. */
function literal(value: unknown): string {
  if (typeof value === 'string') return quote(value)
  if (Array.isArray(value)) return `[${value.map(literal).join(', ')}]`
  if (typeof value !== 'object' || value === null) return String(value)
  const parts = Object.entries(value).map(([name, inner]) => `${key(name)}: ${literal(inner)}`)
  return `{ ${parts.join(', ')} }`
}
