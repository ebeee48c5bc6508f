/** A body as it is written into the output. */
export type RenderedBody =
  | { readonly format: 'markdown'; readonly html: string }
  /** The code of a function that is given a JSX runtime. */
  | { readonly format: 'mdx'; readonly code: string }

/** So many bodies are loaded together: few files for thousands, little to load for one. */
export const BODIES_A_PART = 16

/** Makes the modules that hold bodies, in the order of the entries. */
export function emitBodies(bodies: readonly (RenderedBody | undefined)[]): string[] {
  const parts = Array.from({ length: Math.ceil(bodies.length / BODIES_A_PART) }, (_, part) =>
    bodies.slice(part * BODIES_A_PART, (part + 1) * BODIES_A_PART),
  )
  return parts.map((part) => `export default [\n${part.map((body) => `  ${emitBody(body)},\n`).join('')}]\n`)
}

function emitBody(body: RenderedBody | undefined): string {
  if (!body) return 'null'
  if (body.format === 'markdown') return JSON.stringify(body)
  return `{"format":"mdx","html":null,compiled:async function(){${body.code}\n}}`
}
