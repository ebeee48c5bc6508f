import { BodyError } from '../body/body-error.ts'
import type { Highlighter } from '../body/highlighter.ts'
import type { ParsedBody, Rewrite } from '../body/parsed-body.ts'
import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { Rendition } from '../schema/image-sources.ts'
import type { BlockFields } from '../schema/kind.ts'
import { hasPrivate } from '../schema/store-fields.ts'
import type { Entry, EntryBody } from '../validate/entry.ts'
import type { BodyOutput, RenderedBody } from './body-chunk.ts'
import { createRewrite, type OutputAddress } from './output-address.ts'
import { createBlockStorer, type FieldRenderer } from './stored-entry.ts'

/** A rendered body, or the reason why it cannot be rendered though it can be read. */
export interface BodyResult {
  readonly body: RenderedBody | undefined
  readonly diagnostics: readonly Diagnostic[]
}

/** The surroundings of the rendering of a collection's bodies. */
export interface BodyRendering {
  readonly blocks: BlockFields
  readonly highlighter: Highlighter | undefined
  /** Renders Markdown in the properties of blocks. */
  readonly renderField: FieldRenderer
}

/** Renders the body of an entry; `address` gives what its links become. */
export type BodyRenderer = (
  entry: Pick<Entry, 'properties'> & { readonly body: EntryBody },
  parsed: ParsedBody,
  address: (href: string) => OutputAddress,
) => Promise<BodyResult>

/** Makes a renderer of the bodies of a collection. */
export function createBodyRenderer({ blocks, highlighter, renderField }: BodyRendering): BodyRenderer {
  const secretBlocks = new Set([...blocks].flatMap(([name, fields]) => (hasPrivate(fields, blocks) ? [name] : [])))
  const store = createBlockStorer(blocks, renderField)
  return async ({ body, properties: values }, parsed, address) => {
    const shown = new Map<string, string>()
    const named = new Set<string>()
    const made = new Map<string, Rendition>()
    const rewriteInto = (found: (address: string, file: string) => void): Rewrite =>
      createRewrite(address, {
        file: (output, file) => found(output, file),
        rendition: (output, one) => made.set(output, one),
      })
    const rewrite = rewriteInto((output, file) => shown.set(output, file))
    const rewriteNamed = rewriteInto((_output, file) => named.add(file))
    const { uses } = body.summary
    const properties = uses.map((use, at) => store(use, values[at] ?? {}, rewriteNamed))
    try {
      const { text, map } = await parsed.output({ highlighter, properties, rewrite })
      const components = Object.fromEntries(uses.flatMap(({ name, block }) => (block ? [[name, block]] : [])))
      const hasSecrets = uses.some(({ block = '' }) => secretBlocks.has(block))
      const { file, linesAbove } = body
      const written: BodyOutput =
        body.format === 'markdown'
          ? { format: 'markdown', htmlJson: JSON.stringify(text) }
          : { format: 'mdx', code: text, components, map }
      const rendered: RenderedBody = {
        file,
        linesAbove,
        files: [...shown],
        named: [...named],
        hasSecrets,
        ...(made.size > 0 ? { made: [...made] } : {}),
        ...written,
      }
      return { body: rendered, diagnostics: [] }
    } catch (error) {
      if (!(error instanceof BodyError)) throw error
      return { body: undefined, diagnostics: [error.diagnostic] }
    }
  }
}
