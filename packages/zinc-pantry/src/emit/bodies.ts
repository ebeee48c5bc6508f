/** A body as it is written into the output. */
export type RenderedBody =
  | { readonly format: 'markdown'; readonly html: string }
  | {
      readonly format: 'mdx'
      /** The code of a function that is given a JSX runtime. */
      readonly code: string
      /** The file, relative to the site's root, that imports in the code are relative to. */
      readonly file: string
      readonly components: Readonly<Record<string, string>>
    }

/** So many bodies are loaded together: few files for thousands, little to load for one. */
export const BODIES_A_PART = 16

/** Makes a module that holds bodies, in the order of the entries. */
export const emitBodies = (bodies: readonly string[]): string =>
  ['export default [\n', ...bodies.map((body) => `  ${body},\n`), ']\n'].join('')

/** Makes the code of one body; `output` is the generated folder. */
export function emitBody(body: RenderedBody | undefined, output: string): string {
  if (!body) return 'null'
  if (body.format === 'markdown') return JSON.stringify(body)
  const { format, components, code, file } = body
  const head = JSON.stringify({ format, html: null, components }).slice(0, -1)
  const path = `${'../'.repeat(output.split('/').length + 1)}${file}`.split('/').map(encodeURIComponent).join('/')
  const base = `new URL(${JSON.stringify(path)},import.meta.url).href`
  return `${head},"compiled":(runtime)=>(async function(){${code}\n})({baseUrl:${base},...runtime})}`
}
