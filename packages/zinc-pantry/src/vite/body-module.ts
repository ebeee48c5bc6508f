import { emitMdx, type RenderedBody } from '../emit/bodies.ts'

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
  /** Gives the text of a file of the site. */
  read(file: string): string | undefined
}

/** The module of one body. Its files and what its code imports are left to the bundler. */
export function emitBodyModule(body: RenderedBody, { root, content, read }: BodyPlaces): ModuleText {
  const imports = body.files.map(
    ([, file], at) => `import file${at} from ${JSON.stringify(`${root}/${content}/${file}?url`)}\n`,
  )
  const source = `${root}/${body.file}`
  const value =
    body.format === 'markdown'
      ? `{ format: 'markdown', html: ${emitHtml(body.htmlJson, body.files)} }`
      : emitMdx({ ...body, code: bundleImports(putFiles(body.code, body.files), source) }, JSON.stringify(source))
  const head = imports.join('')
  return {
    code: `${head}export default ${value}\n`,
    map: {
      version: 3,
      sources: [source],
      sourcesContent: [sourceOf(body, read(body.file) ?? '')],
      names: [...((body.format === 'mdx' && body.map?.names) || [])],
      mappings: ';'.repeat(imports.length) + mappingsOf(body),
    },
  }
}

/** The text of a body at its lines, without what stands above it in its file. */
function sourceOf({ linesAbove, hasSecrets }: RenderedBody, text: string): string {
  if (hasSecrets) return ''
  const lines = text.split('\n')
  return [...lines.slice(0, linesAbove).fill(''), ...lines.slice(linesAbove)].join('\n')
}

type Files = RenderedBody['files']

/** What stands behind the name of a file in an address. */
const endingOf = (address: string): string => /[?#].*$/s.exec(address)?.[0] ?? ''

/** The code of a text of HTML in which the addresses of files are those of the bundler. */
function emitHtml(htmlJson: string, files: Files): string {
  let code = htmlJson
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

/** Where the code of a body comes from: all of HTML from where the body starts, code of MDX line by line. */
function mappingsOf({ linesAbove, ...body }: RenderedBody): string {
  const { mappings = '' } = (body.format === 'mdx' && body.map) || {}
  const [first] = /[^;,]+/.exec(mappings) ?? []
  if (first === undefined)
    return [0, 'export default '.length].map((column) => encodeVlq([column, 0, column ? 0 : linesAbove, 0])).join()
  // Numbers tell what is different from the segment before, so that the first tells for all.
  const [column = 0, source = 0, line = 0, ...rest] = decodeVlq(first)
  return mappings.replace(first, encodeVlq([column, source, line + linesAbove, ...rest]))
}

const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'
const MORE = 32

/** Numbers as source maps write them (ECMA-426). */
function encodeVlq(numbers: readonly number[]): string {
  let text = ''
  for (const number of numbers) {
    let rest = Math.abs(number) * 2 + (number < 0 ? 1 : 0)
    do {
      const digit = rest % MORE
      rest = Math.floor(rest / MORE)
      text += DIGITS[rest > 0 ? digit + MORE : digit]
    } while (rest > 0)
  }
  return text
}

function decodeVlq(text: string): number[] {
  const numbers: number[] = []
  let value = 0
  let place = 1
  for (const character of text) {
    const digit = DIGITS.indexOf(character)
    value += (digit % MORE) * place
    place *= MORE
    if (digit >= MORE) continue
    numbers.push((value % 2 === 1 ? -1 : 1) * Math.floor(value / 2))
    value = 0
    place = 1
  }
  return numbers
}
