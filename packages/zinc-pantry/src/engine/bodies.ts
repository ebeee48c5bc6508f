import type { BodyReader } from '../body/body-reader.ts'
import type { BodyHeading, CodeFence } from '../body/body-summary.ts'
import type { BodyText } from '../body/markdown/markdown-body.ts'
import type { ParsedBody } from '../body/parsed-body.ts'
import type { AddressTest, LocatedLinks } from '../link/check-links.ts'
import { keyBeside } from '../memo/kept-results.ts'
import type { RecordStore } from '../memo/record-store.ts'
import type { WrittenFacts } from '../schema/body-facts.ts'
import type { Entry, EntryBody } from '../validate/entry.ts'

/** Where the body of a file comes from. */
export interface BodySource {
  /** The reader of the bodies of its collection. */
  readonly reader: BodyReader
  readonly format: EntryBody['format']
  /** Gives its text. */
  read(): BodyText
  /** Says all that the body depends on, or says it when it is asked for; undefined where that cannot be said. */
  key?: string | (() => string) | undefined
}

/** The findings of a parse of a body. */
export interface BodyFindings {
  readonly facts?: WrittenFacts | undefined
  readonly text?: string | undefined
}

/** A body, and what was found in it. */
export interface KnownBody {
  readonly source: BodySource
  parsed?: ParsedBody | undefined
  found: BodyFindings
}

/**
 * The bodies of a site, for questions beyond their summaries, which take a parse. Each is parsed once in a run at most, and what an
 * earlier run found is not looked for again.
 */
export interface Bodies {
  /** Says where the body of a file comes from. */
  register(file: string, source: BodySource): void
  /** All that is known of the body of a file. */
  known(file: string): KnownBody | undefined
  /** Takes the body of a file, with all that another run knows of it. */
  adopt(file: string, body: KnownBody): void
  /** Says what reads Markdown in the fields of a collection. */
  setReader(collection: string, reader: BodyReader): void
  sourceOf(file: string): BodySource | undefined
  /** Says all that the body of a file depends on; undefined where there is none, or that cannot be said. */
  keyOf(file: string): string | undefined
  /** Loads what parsing some bodies takes. */
  prepare(bodies: readonly EntryBody[]): Promise<void>
  /** Parses the body of a file; it must be prepared. */
  parse(file: string): ParsedBody
  /** The text of the body of a file, for who parses it elsewhere, and lets go what was parsed here; undefined where that is worth more. */
  takeText(file: string): BodyText | undefined
  /** The links of an entry that do not pass, in its body and in fields of Markdown. */
  locateLinks(entry: Entry, isFine: AddressTest): LocatedLinks
  locateFences(body: EntryBody, isFine: (language: string) => boolean): readonly CodeFence[]
  /** The ids that fragments of links may name. */
  idsOf(body: EntryBody): readonly string[]
  factsOf(body: EntryBody): WrittenFacts
  /** The facts of Markdown in a field of a collection. */
  factsOfText(collection: string, text: string): WrittenFacts | undefined
  /** The headings of a body; it must be prepared. Places are in the file. */
  headingsOf(body: EntryBody): readonly BodyHeading[]
  /** The plain text of a body; it must be prepared. */
  textOf(body: EntryBody): string
  /** Takes what was found in a body. */
  note(file: string, found: BodyFindings): void
  count(): number
  forget(isThere: (file: string) => boolean): void
}

/** Opens the bodies of a site; `recall` gives what an earlier process found in a body, by its key. */
export function openBodies(store: RecordStore, recall: (key: string) => BodyFindings | undefined): Bodies {
  const known = new Map<string, KnownBody>()
  const readers = new Map<string, BodyReader>()
  const bodyOf = (file: string): KnownBody => known.get(file) as KnownBody
  const parse = (file: string): ParsedBody => {
    const one = bodyOf(file)
    const { reader, format, read } = one.source
    one.parsed ??= format === 'mdx' ? reader.readMdx(read()) : reader.readMarkdown(read())
    return one.parsed
  }
  const keyOf = (file: string): string | undefined => {
    const source = known.get(file)?.source
    if (typeof source?.key === 'function') source.key = source.key()
    return source?.key as string | undefined
  }
  const findingsOf = (file: string): BodyFindings => {
    const one = bodyOf(file)
    const key = keyOf(file)
    if (!one.parsed && one.found === NOTHING_FOUND && key !== undefined) one.found = recall(key) ?? {}
    return one.found
  }
  return {
    register: (file, source) => void known.set(file, { source, found: NOTHING_FOUND }),
    known: (file) => known.get(file),
    adopt: (file, body) => void known.set(file, body),
    setReader: (collection, reader) => void readers.set(collection, reader),
    sourceOf: (file) => known.get(file)?.source,
    keyOf,
    async prepare(bodies) {
      for (const { file, format } of bodies)
        if (format === 'mdx' && !bodyOf(file).parsed) await bodyOf(file).source.reader.loadMdx()
    },
    parse,
    takeText(file) {
      const one = bodyOf(file)
      if (one.parsed?.holdsTree?.()) return undefined
      one.parsed = undefined
      return one.source.read()
    },
    locateLinks({ collection, body, texts }, isFine) {
      const reader = readers.get(collection)
      const inBody = (): LocatedLinks['body'] => {
        if (!body || body.summary.addresses.every(isFine)) return []
        return body.summary.links?.filter(({ href }) => !isFine(href)) ?? parse(body.file).links(isFine)
      }
      return {
        body: inBody(),
        texts: texts.map(({ text, summary }) => {
          if (!reader || summary.addresses.every(isFine)) return []
          return reader.readMarkdown({ text, file: '', startOffset: 0 }).links(isFine)
        }),
      }
    },
    locateFences: ({ file, summary }, isFine) =>
      summary.fences?.filter(({ language }) => !isFine(language)) ?? parse(file).fences(isFine),
    idsOf({ file, summary }) {
      if (summary.ids) return summary.ids
      const key = keyOf(file)
      const place = key === undefined ? undefined : keyBeside(key, 'i')
      const kept = place === undefined ? undefined : (store.get(place) as readonly string[] | undefined)
      if (kept) return kept
      const ids = parse(file).ids()
      if (place !== undefined) store.put(place, [JSON.stringify(ids)])
      return ids
    },
    factsOf: ({ file, summary }) => summary.facts ?? findingsOf(file).facts ?? parse(file).facts(),
    factsOfText: (collection, text) =>
      readers.get(collection)?.readMarkdown({ text, file: '', startOffset: 0 }).facts(),
    headingsOf: ({ file, startOffset }) =>
      parse(file)
        .headings()
        .map((one) => ({ ...one, span: [one.span[0] + startOffset, one.span[1] + startOffset] })),
    textOf: ({ file }) => findingsOf(file).text ?? parse(file).text(),
    note(file, found) {
      const one = bodyOf(file)
      one.found = { ...one.found, ...found }
    },
    count: () => known.size,
    forget(isThere) {
      for (const file of known.keys()) if (!isThere(file)) known.delete(file)
    },
  }
}

const NOTHING_FOUND: BodyFindings = {}
