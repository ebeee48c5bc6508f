import picomatch from 'picomatch'
import type { Attention, Change, ChangeStep, Refusal } from '../../change/change.ts'
import { contentsOf } from '../../change/contents.ts'
import { editValue } from '../../change/edit-value.ts'
import type { GuessedCollection } from '../../change/infer/guess.ts'
import { guessCollections } from '../../change/infer/guess-collections.ts'
import type { RecordGroup } from '../../change/infer/guess-references.ts'
import { loosenField } from '../../change/infer/loosen.ts'
import {
  constructorsOf,
  type GuessedSite,
  writeCollection,
  writeConfiguration,
} from '../../change/infer/write-configuration.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { plural } from '../../diagnostics/words.ts'
import type { Host } from '../../host/host.ts'
import { resolveFrom } from '../../link/resolve-path.ts'
import { formatOf } from '../../read/formats.ts'
import { withoutFront } from '../change/target.ts'
import { applyContents } from '../change-journal.ts'
import type { ChangeAnswer } from '../change-request.ts'
import type { Checked } from '../check.ts'
import { addCollections } from '../configuration/add-collections.ts'
import { CONFIGURATION_FILE } from '../configuration-file.ts'
import { overlayHost } from '../overlay-host.ts'
import { readBytes, readText } from '../read-text.ts'
import type { CheckedSite } from '../run-site.ts'
import { EMPTY_REPORT, type SiteOptions, type SiteReport } from '../site-report.ts'
import { type FoundContent, findContent } from './find-content.ts'
import { readFiles } from './read-files.ts'

/** How a configuration is inferred. */
export interface InferOptions {
  readonly host: Host
  /** That of an existing site, which gets collections for files that it does not read. Default: none. */
  readonly configurationFile?: string | undefined
  /** Patterns of files, relative to the root. Default: all that no collection reads. */
  readonly patterns: readonly string[]
  /** Whether `package.json` and `.gitignore` get what `#pantry` needs. */
  addImports(): Promise<boolean>
  /** Nothing is written. Default: false. */
  readonly dryRun?: boolean
  /** Called now and then while files are checked. */
  readonly onProgress?: SiteOptions['onProgress']
}

/** Rounds of guesses that are taken back. */
const MOST_ROUNDS = 6

/**
 * Infers a configuration from content that has none, or collections for files that no collection reads, with the counts behind each
 * guess. What it writes passes a check, but for the mistakes that are told.
 */
export async function inferSite({
  host,
  configurationFile,
  patterns,
  addImports,
  dryRun = false,
  onProgress,
}: InferOptions): Promise<ChangeAnswer> {
  const { examineSite } = await import('../run-site.ts')
  const file = configurationFile ?? CONFIGURATION_FILE
  const before =
    configurationFile === undefined
      ? undefined
      : await examineSite({ host, configurationFile, drafts: true, cache: false })
  const nothing = before?.report ?? EMPTY_REPORT
  if (before && !before.model) return { ...nothing, refused: 'The configuration has errors' }
  const found = before?.model ? findUnread(before, patterns) : findContent(host, patterns)
  if ('refused' in found) return { ...nothing, ...found }
  const isFile = (path: string, from: string): boolean => {
    const at = resolveFrom(path.startsWith('/') ? '' : from, path)
    return at !== undefined && found.listing.includes(at)
  }
  const known = new Set(before?.model?.collections.map(({ name }) => name))
  const { files: seen, unread } = readFiles(host, found.content, found.files)
  const guessed = guessCollections(seen, { isFile, known: before ? recordsOf(before.checked) : [] })
  const attention = [...unread, ...guessed.suspicions].map(({ file: path, words }): Attention => {
    return { place: { file: `${found.content}/${path}`, span: [0, 0] }, words }
  })
  if (guessed.collections.length === 0) return { ...nothing, refused: 'None of the files can be read' }
  let site: GuessedSite = {
    content: found.content,
    collections: guessed.collections.map((one) => renamed(one, known)),
    settings: localesOf(guessed.locales),
  }
  for (let round = 0; ; round++) {
    const step = await writeSite(host, { file, site, isNew: !before })
    if ('refused' in step) return { ...nothing, ...step }
    const change: Change = { words: wordsFor(site), steps: step.steps, attention }
    const contents = contentsOf(change, (path) => readBytes(host, path))
    const examined = await examineSite({
      host: overlayHost(host, contents.after),
      configurationFile: file,
      drafts: true,
      cache: false,
      ...(onProgress ? { onProgress } : {}),
    })
    const looser = round < MOST_ROUNDS ? loosenSite(site, examined.report) : undefined
    if (looser) {
      site = looser
      continue
    }
    const more = !before && (await addImports()) ? importSteps(host) : []
    const whole = { ...change, steps: [...change.steps, ...more] }
    const all = contentsOf(whole, (path) => readBytes(host, path))
    const answer = {
      ...examined.report,
      change: whole,
      ...all,
      outcome: examined.report,
      problems: examined.report,
      unfilled: [],
      isWritten: false,
      changed: [],
    }
    if (dryRun) return answer
    const applied = await applyContents(host, { words: change.words, ...all })
    return 'changed' in applied ? { ...answer, changed: applied.changed } : { ...answer, isWritten: true }
  }
}

/** Texts without a language in their names have the first, which is a guess. */
function localesOf(found: readonly string[]): GuessedSite['settings'] {
  if (found.length === 0) return {}
  const value = found.includes('en') ? found : ['en', ...found]
  return { locales: { value, why: 'the first is that of texts that name none' } }
}

/** Names that a site has already are left to what has them. */
function renamed(collection: GuessedCollection, known: ReadonlySet<string>): GuessedCollection {
  let { name } = collection
  for (let count = 2; known.has(name); count++) name = `${collection.name}${count}`
  return { ...collection, name }
}

const wordsFor = ({ collections }: GuessedSite): string => {
  const entries = collections.reduce((sum, { count }) => sum + count, 0)
  return `${plural(collections.length, 'collection')} inferred from ${plural(entries, 'entry', 'entries')}`
}

/** The entries that a site has already, as guesses of references see them. */
const recordsOf = ({ collections }: Checked): readonly RecordGroup[] =>
  collections.map(({ collection, entries }) => ({
    name: collection.name,
    ids: entries.map(({ id }) => id),
    records: entries.map(({ id, source, data }) => ({ file: source.file, value: data ?? {}, name: id })),
  }))

/** Files of a site that no collection reads. */
function findUnread(
  { model, listing, checked }: CheckedSite & { readonly listing: readonly string[] },
  patterns: readonly string[],
): FoundContent | Refusal {
  const content = model?.content ?? ''
  const read = new Set(checked.collections.flatMap(({ entries }) => entries.map(({ source }) => source.file)))
  const isWanted = createMatcher(patterns, content)
  const files = listing.filter((path) => !read.has(path) && formatOf(path, new Map()) !== undefined && isWanted(path))
  if (files.length > 0) return { content, files, listing }
  return {
    refused:
      patterns.length === 0
        ? `Collections read all files of ${content}`
        : `No file of ${content} that is not read matches ${patterns.join(', ')}`,
  }
}

function createMatcher(patterns: readonly string[], content: string): (path: string) => boolean {
  if (patterns.length === 0) return () => true
  return picomatch(patterns.map((pattern) => withoutFront(pattern, `${content}/`)))
}

/** The steps that write the configuration, or bring collections into it. */
async function writeSite(
  host: Host,
  { file, site, isNew }: { readonly file: string; readonly site: GuessedSite; readonly isNew: boolean },
): Promise<{ readonly steps: readonly ChangeStep[] } | Refusal> {
  const { collections } = site
  const reason = wordsFor(site)
  if (isNew) return { steps: [{ kind: 'make', file, text: writeConfiguration(site), reason }] }
  const lines = collections.flatMap((one) => writeCollection(one))
  const edits = await addCollections(readText(host, file) ?? '', { lines, constructors: constructorsOf(collections) })
  if (!edits)
    return {
      refused: `No place for collections is found in ${file}`,
      help: 'Write collections: { … } in it, with one in it',
    }
  return { steps: edits.map((edit) => ({ kind: 'edit', file, ...edit, reason })) }
}

/** Problems of whole sites that it may live with, until its addresses are declared. */
const LINKS = ['link-broken', 'link-fragment', 'import-missing']

/** Takes back the guesses that more than a few values do not fit; undefined where all fit. */
function loosenSite(site: GuessedSite, { diagnostics }: SiteReport): GuessedSite | undefined {
  const counts = new Map<string, { readonly problem: Diagnostic; count: number }>()
  const links = new Map<string, number>()
  for (const problem of diagnostics) {
    const { code, severity, collection, field } = problem
    if (severity !== 'error') continue
    if (LINKS.includes(code)) links.set(code, (links.get(code) ?? 0) + 1)
    if (collection === undefined || field === undefined || /^(?:field-(?:unknown|missing)|value-duplicate)$/.test(code))
      continue
    const key = `${collection} ${field}`
    const known = counts.get(key)
    if (known) known.count++
    else counts.set(key, { problem, count: 1 })
  }
  let { collections } = site
  for (const { problem, count } of counts.values()) {
    const total = collections.find(({ name }) => name === problem.collection)?.count ?? 0
    if (count > Math.max(2, total * 0.05))
      collections = loosenField(collections, problem.collection ?? '', (problem.field ?? '').split('.'))
  }
  const bodies = site.collections.reduce((sum, { settings, count }) => sum + (settings.body ? count : 0), 0)
  const many = [...links].filter(
    ([code, count]) =>
      count > Math.max(5, bodies * 0.1) && !Object.hasOwn(Object(site.settings.severities?.value), code),
  )
  const severities = {
    ...Object(site.settings.severities?.value),
    ...Object.fromEntries(many.map(([code]) => [code, 'warning'])),
  }
  const why = many.map(([code, count]) => `${count} × ${code}: look at them once pages have addresses`).join('; ')
  const settings = many.length === 0 ? site.settings : { ...site.settings, severities: { value: severities, why } }
  return collections === site.collections && many.length === 0 ? undefined : { ...site, collections, settings }
}

/** What `#pantry` needs beside the configuration. */
function importSteps(host: Host): readonly ChangeStep[] {
  const reason = 'code imports the output as #pantry'
  const steps: ChangeStep[] = []
  const text = readText(host, 'package.json')
  const format = formatOf('package.json', new Map())
  const document = text === undefined ? undefined : format?.read({ file: 'package.json', text }, {}).document
  if (text !== undefined && format && document) {
    const source = { file: 'package.json', text, format, document, readOptions: {}, listSeparator: ';' }
    const edit = editValue(source, ['imports', '#pantry'], './generated/pantry/index.js')
    const isThere = (document.value as { imports?: Record<string, unknown> }).imports?.['#pantry'] !== undefined
    if (edit && !isThere) steps.push({ kind: 'edit', file: 'package.json', ...edit, reason })
  }
  const ignored = readText(host, '.gitignore')
  const lines = ['generated/', '.pantry/'].filter((line) => !ignored?.split(/\r?\n/).includes(line))
  const added = lines.map((line) => `${line}\n`).join('')
  const why = 'what is made from content is not kept with it'
  if (ignored === undefined) steps.push({ kind: 'make', file: '.gitignore', text: added, reason: why })
  else if (added !== '') {
    const at = ignored.length
    const start = ignored === '' || ignored.endsWith('\n') ? '' : '\n'
    steps.push({ kind: 'edit', file: '.gitignore', span: [at, at], text: start + added, reason: why })
  }
  return steps
}
