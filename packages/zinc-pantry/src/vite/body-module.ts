import { emitMdx, type RenderedBody } from '../emit/bodies.ts'

/** The text of a module and where it comes from, as bundlers take it. */
export interface ModuleText {
  readonly code: string
  readonly map: { readonly version: 3; readonly sources: string[]; readonly names: string[]; readonly mappings: string }
}

/** Where a body and its files are. */
export interface BodyPlaces {
  /** The absolute path of the root of the site, with forward slashes. */
  readonly root: string
  /** The content folder, relative to the root. */
  readonly content: string
}

/** The module of one body. Its files and what its code imports are left to the bundler. */
export function emitBodyModule(body: RenderedBody, { root, content }: BodyPlaces): ModuleText {
  const imports = body.files.map(
    ([, file], at) => `import file${at} from ${JSON.stringify(`${root}/${content}/${file}?url`)}\n`,
  )
  const source = `${root}/${body.file}`
  const value =
    body.format === 'markdown'
      ? `{ format: 'markdown', html: ${emitHtml(body.html, body.files)} }`
      : emitMdx({ ...body, code: bundleImports(putFiles(body.code, body.files), source) }, JSON.stringify(source))
  const head = imports.join('')
  return {
    code: `${head}export default ${value}\n`,
    map: mapTo(source, { skipped: imports.length, line: body.linesAbove }),
  }
}

type Files = RenderedBody['files']

/** What stands behind the name of a file in an address. */
const endingOf = (address: string): string => /[?#].*$/s.exec(address)?.[0] ?? ''

/** The code of a text of HTML in which the addresses of files are those of the bundler. */
function emitHtml(html: string, files: Files): string {
  let code = JSON.stringify(html)
  for (const [at, [address]] of files.entries()) {
    const escaped = address.replaceAll('&', '&amp;').replaceAll('"', '&quot;')
    const written = JSON.stringify(`="${escaped}"`).slice(1, -1)
    const ending = JSON.stringify(`${endingOf(escaped)}"`).slice(1, -1)
    code = code.replaceAll(written, () => `=\\"" + file${at} + "${ending}`)
  }
  return code
}

/** Code in which the addresses of files are those of the bundler. */
function putFiles(code: string, files: Files): string {
  let put = code
  for (const [at, [address]] of files.entries()) {
    const ending = endingOf(address)
    put = put.replaceAll(JSON.stringify(address), () =>
      ending === '' ? `(file${at})` : `(file${at} + ${JSON.stringify(ending)})`,
    )
  }
  return put
}

const IMPORT = /import\(_resolveDynamicMdxSpecifier\((["'])((?:(?!\1)[^\\])*)\1\)\)/g

/** Makes what a text of MDX imports known to the bundler: paths relative to the text become absolute. */
const bundleImports = (code: string, source: string): string =>
  code.replace(IMPORT, (_, _quote, specifier: string) => {
    const isRelative = specifier.startsWith('.')
    const path = isRelative ? decodeURI(new URL(specifier, `file://${encodeURI(source)}`).pathname) : specifier
    return `import(${JSON.stringify(path)})`
  })

/** Maps the first line of a module below some to a line of its source. */
function mapTo(
  source: string,
  { skipped, line }: { readonly skipped: number; readonly line: number },
): ModuleText['map'] {
  const mapping = `AA${encodeVlq(line)}A`
  return { version: 3, sources: [source], names: [], mappings: `${';'.repeat(skipped)}${mapping}` }
}

const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'

/** A number from 0 as source maps write it. */
function encodeVlq(value: number): string {
  let rest = value * 2
  let text = ''
  do {
    const digit = rest % 32
    rest = Math.floor(rest / 32)
    text += DIGITS[rest > 0 ? digit + 32 : digit]
  } while (rest > 0)
  return text
}
