import type { BlockUse, BodyLink, BodyOutput, CodeFence, OutputOptions, ParsedBody } from '../../body/parsed-body.ts'
import type { Diagnostic, Span } from '../../diagnostics/diagnostic.ts'
import type { WrittenFacts } from '../../schema/body-facts.ts'

/** What is known of a body without its text. */
export interface BodyKnowledge {
  ids?: readonly string[]
  /** Whatever may be the address of a link. */
  addresses?: readonly string[]
  /** Whatever may be the language of a fence of code. */
  languages?: readonly string[]
  /** What its code imports. */
  imports?: readonly string[]
  /** How many pictures have no alternative text. */
  silent?: number
  facts?: WrittenFacts
  text?: string
}

/** Reads a body; undefined as long as what reads it is not loaded. */
type ReadBody = () => ParsedBody | undefined

/** Where a body is read. */
interface BodySource {
  readonly read: ReadBody
  /** Loads what reads it. */
  load(): Promise<void>
  readonly key?: string
}

/** A body whose text is read only where what is known of it does not do. */
export class RememberedBody implements ParsedBody {
  readonly known: BodyKnowledge
  /** True where more is known than was kept. */
  hasNews: boolean
  /** The key of what is kept of its file. */
  key: string | undefined
  readonly #read: ReadBody
  readonly #load: () => Promise<void>
  readonly #isSound: boolean
  #inner: ParsedBody | undefined

  /** A body of which something is known was sound. */
  constructor(known: BodyKnowledge | undefined, { read, load, key }: BodySource) {
    this.key = key
    this.known = known ?? {}
    this.hasNews = known === undefined
    this.#isSound = known !== undefined
    this.#read = read
    this.#load = load
  }

  /** Must be awaited before `uses` and `output`. */
  async prepare(): Promise<void> {
    if (!this.#parsed()) await this.#load()
  }

  /** Finds out all that questions ask for without the text. */
  learn(): void {
    this.ids()
    this.links(() => true)
    this.fences(() => true)
    this.silentImages()
    this.imports(() => true)
    this.facts()
  }

  diagnostics(): readonly Diagnostic[] {
    return this.#isSound ? [] : (this.#parsed()?.diagnostics() ?? [])
  }

  ids(): readonly string[] {
    return this.#recall('ids', (body) => body.ids()) ?? []
  }

  links(isFine: (href: string) => boolean): readonly BodyLink[] {
    const addresses = this.#recall('addresses', (body) => collect((note) => body.links(note))) ?? []
    return addresses.every(isFine) ? [] : (this.#parsed()?.links(isFine) ?? [])
  }

  fences(isFine: (language: string) => boolean): readonly CodeFence[] {
    const languages = this.#recall('languages', (body) => collect((note) => body.fences(note))) ?? []
    return languages.every(isFine) ? [] : (this.#parsed()?.fences(isFine) ?? [])
  }

  imports(isFine: (specifier: string) => boolean): readonly BodyLink[] {
    const imports = this.#recall('imports', (body) => collect((note) => body.imports(note))) ?? []
    return imports.every(isFine) ? [] : (this.#parsed()?.imports(isFine) ?? [])
  }

  silentImages(): readonly Span[] {
    const count = this.#recall('silent', (body) => body.silentImages().length) ?? 0
    return count === 0 ? [] : (this.#parsed()?.silentImages() ?? [])
  }

  facts(): WrittenFacts {
    return this.#recall('facts', (body) => body.facts()) as WrittenFacts
  }

  text(): string {
    return this.#recall('text', (body) => body.text()) ?? ''
  }

  uses(): readonly BlockUse[] {
    return this.#parsed()?.uses() ?? []
  }

  async output(options: OutputOptions): Promise<BodyOutput> {
    return (await this.#parsed()?.output(options)) ?? { text: '' }
  }

  #parsed(): ParsedBody | undefined {
    this.#inner ??= this.#read()
    return this.#inner
  }

  #recall<Name extends keyof BodyKnowledge>(
    name: Name,
    ask: (body: ParsedBody) => Required<BodyKnowledge>[Name],
  ): BodyKnowledge[Name] {
    const parsed = this.known[name] === undefined ? this.#parsed() : undefined
    if (parsed) {
      this.known[name] = ask(parsed)
      this.hasNews = true
    }
    return this.known[name]
  }
}

/** All that a body asks about, each once. */
function collect(ask: (note: (name: string) => boolean) => unknown): string[] {
  const found = new Set<string>()
  ask((name) => {
    found.add(name)
    return true
  })
  return [...found]
}
