import type { BodyMap } from '../body/parsed-body.ts'
import type { Rendition } from '../schema/image-sources.ts'

/** A body as it is written into the output. */
export type RenderedBody = BodySource & BodyOutput

/** What is made of the text of a body. */
export type BodyOutput = MarkdownOutput | MdxOutput

/** Where a body comes from. */
interface BodySource {
  /** Relative to the site's root. Imports in the code of MDX are relative to it. */
  readonly file: string
  /** Lines of the file above the body. */
  readonly linesAbove: number
  /** True where its text has blocks with private properties, so that nobody may be given it. */
  readonly hasSecrets: boolean
  /** The files of the content folder that it shows or leads to, by their addresses in it. */
  readonly files: readonly (readonly [address: string, file: string])[]
  /** The images that are made for it, by their addresses; left out where there are none. */
  readonly made?: readonly (readonly [address: string, rendition: Rendition])[]
  /** Files that Markdown in the properties of its blocks leads to. */
  readonly named: readonly string[]
}

interface MarkdownOutput {
  readonly format: 'markdown'
  /** The HTML as JSON, as which it is written here and there. */
  readonly htmlJson: string
}

interface MdxOutput {
  readonly format: 'mdx'
  /** The code of a function that is given a JSX runtime. */
  readonly code: string
  readonly components: Readonly<Record<string, string>>
  /** Where the code comes from in the body, where that was asked for. */
  readonly map?: BodyMap | undefined
}

/** The number of bodies that are loaded together: few files for thousands, little to load for one. */
export const BODIES_A_CHUNK = 16

/** Makes a module that holds bodies, in the order of the entries. */
export const emitBodies = (bodies: readonly string[]): string =>
  ['export default [\n', ...bodies.map((body) => `  ${body},\n`), ']\n'].join('')

/** Makes the code of one body; `output` is the generated folder. */
export function emitBody(body: RenderedBody | undefined, output: string): string {
  if (!body) return 'null'
  if (body.format === 'markdown') return `{"format":"markdown","html":${body.htmlJson}}`
  const { file } = body
  const path = `${'../'.repeat(output.split('/').length + 1)}${file}`.split('/').map(encodeURIComponent).join('/')
  return emitMdx(body, `new URL(${JSON.stringify(path)},import.meta.url).href`)
}

/** The code of a body of MDX; `base` is that of the address which imports in it are relative to. */
export function emitMdx({ format, components, code }: MdxOutput, base: string): string {
  const head = JSON.stringify({ format, html: null, components }).slice(0, -1)
  return `${head},"compiled":(runtime)=>(async function(){${code}\n})({baseUrl:${base},...runtime})}`
}
