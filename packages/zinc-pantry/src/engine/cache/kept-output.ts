import type { RenderedBody } from '../../emit/body-chunk.ts'
import { findResult, type KeptReads, keepResult } from '../../memo/kept-results.ts'
import type { RecordStore } from '../../memo/record-store.ts'
import type { WrittenFacts } from '../../schema/body-facts.ts'

/** A body as it was rendered, and what was found in it. */
export interface KeptOutput {
  /** The properties of blocks, and the settings of the site. */
  readonly scope: string
  readonly body: RenderedBody
  readonly facts: WrittenFacts
  /** Its plain text, where it is searched. */
  readonly text?: string | undefined
}

/** An output, and what became of its addresses. */
export interface RecalledOutput extends KeptOutput {
  readonly addresses: readonly (readonly [written: string, address: string])[]
}

/** Keeps an output. HTML, which is JSON already, is not written as a text in a text. */
export function keepOutput(
  store: RecordStore,
  key: string,
  { scope, body, facts, text }: KeptOutput,
  addresses: KeptReads,
): void {
  if (body.format === 'markdown') {
    const { htmlJson, ...rest } = body
    const head = JSON.stringify({ scope, facts, text, body: rest }).slice(0, -1)
    keepResult(store, key, addresses, [head, ',"html":', htmlJson, '}'])
  } else keepResult(store, key, addresses, [JSON.stringify({ scope, facts, text, body })])
}

/** Finds what {@link keepOutput} kept. */
export function findOutput(store: RecordStore, key: string): RecalledOutput | undefined {
  const found = findResult<KeptOutput & { readonly html?: string }>(store, key)
  if (!found) return undefined
  const { html, scope, facts, text, body: kept } = found.value
  const body = html === undefined ? kept : ({ htmlJson: JSON.stringify(html), ...kept } as RenderedBody)
  return { scope, facts, text, body, addresses: found.reads as RecalledOutput['addresses'] }
}
