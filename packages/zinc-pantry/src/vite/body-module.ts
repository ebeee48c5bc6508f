import { decode, encode, type SourceMapMappings, type SourceMapSegment } from '@jridgewell/sourcemap-codec'
import { findAddresses, spansInValue } from '../body/html-addresses.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import { emitMdx, type RenderedBody } from '../emit/body-chunk.ts'

/** The text of a module and where it comes from, as bundlers take it. */
export interface ModuleText {
  readonly code: string
  readonly map: {
    readonly version: 3
    readonly sources: string[]
    readonly sourcesContent: string[]
    readonly names: string[]
    readonly mappings: string
  }
}

/** Where a body and its files are. */
export interface BodyPlaces {
  /** The absolute path of the root of the site, with forward slashes. */
  readonly root: string
  /** The content folder, relative to the root. */
  readonly content: string
  /** The generated folder, relative to the root. */
  readonly output: string
  /** Gives the text of a file of the site. */
  read(file: string): string | undefined
}

/** The module of one body. Its files and what its code imports are left to the bundler. */
export function emitBodyModule(body: RenderedBody, { root, content, output, read }: BodyPlaces): ModuleText {
  const source = `${root}/${body.file}`
  const shown = body.files.map(([address, file]): Shown => [address, `${root}/${content}/${file}`])
  const made = (body.made ?? []).map(([address, { file }]): Shown => [address, `${root}/${output}/${file}`])
  const files = importFiles([...shown, ...made])
  const value =
    body.format === 'markdown'
      ? `{ format: 'markdown', html: ${emitHtml(JSON.parse(body.htmlJson) as string, files)} }`
      : emitMdx({ ...body, code: bundleImports(emitCode(body.code, body.files, files), source) }, 'import.meta.url')
  return {
    code: `${files.imports.join('')}export default ${value}\n`,
    map: {
      version: 3,
      sources: [source],
      sourcesContent: [sourceOf(body, read(body.file) ?? '')],
      names: [...((body.format === 'mdx' && body.map?.names) || [])],
      mappings: ';'.repeat(files.imports.length) + mappingsOf(body),
    },
  }
}

/** The text of a body at its lines, without what stands above it in its file. */
function sourceOf({ linesAbove, hasSecrets }: RenderedBody, text: string): string {
  if (hasSecrets) return ''
  const lines = text.split('\n')
  return [...lines.slice(0, linesAbove).fill(''), ...lines.slice(linesAbove)].join('\n')
}

/** The files of a body as the bundler gives them. */
interface ImportedFiles {
  /** The statements that import those that were asked for. */
  readonly imports: string[]
  /** The code that gives the address of a file in the bundle; undefined for what is no file of the body. */
  codeOf(address: string): string | undefined
}

/** A file of a body: its address in it, and its absolute path. */
type Shown = readonly [address: string, path: string]

function importFiles(files: readonly Shown[]): ImportedFiles {
  const byAddress = new Map(files)
  const imports: string[] = []
  const names = new Map<string, string>()
  return {
    imports,
    codeOf(address) {
      const file = byAddress.get(address)
      if (file === undefined) return undefined
      const ending = address.replace(/^[^?#]*/, '')
      // What holds a small file itself has no query.
      const path = `${file}?url${ending.startsWith('?') ? '&no-inline' : ''}`
      let name = names.get(path)
      if (name === undefined) {
        name = `file${names.size}`
        names.set(path, name)
        imports.push(`import ${name} from ${JSON.stringify(path)}\n`)
      }
      return ending === '' ? name : `${name} + ${JSON.stringify(ending)}`
    },
  }
}

/** The code of a text with the values of other code at some places, which are in order. */
function joinCode(text: string, parts: readonly { readonly span: Span; readonly code: string | undefined }[]): string {
  const pieces: string[] = []
  let at = 0
  for (const { span, code } of parts) {
    if (code === undefined) continue
    pieces.push(JSON.stringify(text.slice(at, span[0])), code)
    at = span[1]
  }
  return [...pieces, JSON.stringify(text.slice(at))].join(' + ')
}

/** The code of a text of HTML in which the addresses of files are those of the bundler. */
function emitHtml(html: string, { codeOf }: ImportedFiles): string {
  const parts = findAddresses(html).map(({ address, span, quote }) => {
    const code = codeOf(address)
    // A small file becomes an address that holds it, which can have single quotes.
    const within = quote === "'" ? `(${code}).replaceAll("'", '&#39;')` : code
    return { span, code: code && (quote === '' ? `'"' + ${code} + '"'` : within) }
  })
  return joinCode(html, parts)
}

/** A list of image candidates in the code of a body of MDX. */
const CANDIDATES = /(?<=\bsrc[sS]et: )"[^"\\\n]*"/g

/** Code of a body of MDX in which the addresses of files are those of the bundler. */
function emitCode(code: string, files: RenderedBody['files'], { codeOf }: ImportedFiles): string {
  let put = code
  for (const [address] of files) {
    put = put.replaceAll(JSON.stringify(address), () => `(${codeOf(address)})`)
  }
  return put.replace(CANDIDATES, (text) => {
    const list = text.slice(1, -1)
    const parts = spansInValue('srcset', list).map((span) => ({ span, code: codeOf(list.slice(...span)) }))
    return joinCode(list, parts)
  })
}

const IMPORT = /import\(_resolveDynamicMdxSpecifier\((["'])((?:(?!\1)[^\\])*)\1\)\)/g

/** Makes what a text of MDX imports known to the bundler: paths relative to the text become absolute. */
const bundleImports = (code: string, source: string): string =>
  code.replace(IMPORT, (_, _quote, specifier: string) => {
    const isRelative = specifier.startsWith('.')
    const path = isRelative ? decodeURI(new URL(specifier, `file://${encodeURI(source)}`).pathname) : specifier
    return `import(${JSON.stringify(path)})`
  })

/** Where the code of a body comes from: all of HTML from where the body starts, code of MDX line by line. */
function mappingsOf({ linesAbove, ...body }: RenderedBody): string {
  const written = decode((body.format === 'mdx' && body.map?.mappings) || '')
  const start: SourceMapMappings = [[0, 'export default '.length].map((column) => [column, 0, 0, 0])]
  const lines = written.some((segments) => segments.length > 0) ? written : start
  return encode(
    lines.map((segments) =>
      segments.map(([column, source, line, ...rest]) =>
        source === undefined ? [column] : ([column, source, (line ?? 0) + linesAbove, ...rest] as SourceMapSegment),
      ),
    ),
  )
}
