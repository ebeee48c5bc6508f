import type { RenderedBody } from '../../emit/bodies.ts'

/** A body as it was rendered, and what its output depends on beside its file. */
export interface KeptOutput {
  /** The properties of blocks, and the settings of the site. */
  readonly scope: string
  /** What became of addresses. */
  readonly addresses: readonly (readonly [written: string, address: string])[]
  readonly body: RenderedBody
}

/** An output as JSON, in pieces. HTML, which is JSON already, is not written as a text in a text. */
export function writeOutput({ body, ...output }: KeptOutput): string[] {
  if (body.format === 'mdx') return [JSON.stringify({ ...output, body })]
  const { htmlJson, ...rest } = body
  return [JSON.stringify({ ...output, body: rest }).slice(0, -1), ',"html":', htmlJson, '}']
}

/** Reads what {@link writeOutput} wrote; undefined where there is nothing. */
export function readOutput(value: unknown): KeptOutput | undefined {
  const { html, ...output } = (value ?? {}) as KeptOutput & { readonly html?: string }
  if (value === undefined || html === undefined) return value as KeptOutput | undefined
  return { ...output, body: { ...output.body, htmlJson: JSON.stringify(html) } as RenderedBody }
}
