import type { StoredCollection } from '../query/open-site.ts'
import type { Shape } from '../schema/shape.ts'
import { GENERATED } from './entry-files.ts'

/** A collection in the generated module. */
export interface EmittedCollection extends Pick<StoredCollection, 'pages' | 'parent' | 'backlinks'> {
  readonly name: string
  readonly isSingle: boolean
  readonly shapes: Readonly<Record<string, Shape>>
  /** Paths below the generated folder. */
  readonly catalogue: string
  readonly notes?: string
  readonly chunks: readonly string[]
  /** How large the orders are that it keeps, by their names, in bytes. */
  readonly orderSizes: Readonly<Record<string, number>>
}

/** How a module reaches what it loads. */
export interface ModuleForm {
  /** The specifier of the query runtime. Default: that of the package. */
  readonly runtime?: string
  /** Statements at its start. */
  readonly head: readonly string[]
  /** The code that opens the site; `list` is that of its collections and languages. */
  open(list: string): string
  /** The code that loads a file of the output, by its path there. */
  load(path: string): string
  /** Lines that define the function `part` of a collection, which gives a chunk by its `kind` and `name`. */
  chunk(collection: EmittedCollection): readonly string[]
  /** Statements at its end. */
  readonly foot: readonly string[]
}

/** The text of the module of a site, as the output and bundlers have it. */
export function emitSiteModule(
  collections: readonly EmittedCollection[],
  locales: readonly string[],
  { runtime = 'zinc-pantry/query', head, open, load, chunk, foot }: ModuleForm,
): string {
  const emitStored = (collection: EmittedCollection): string => {
    const { name, shapes, catalogue, notes, pages, parent, backlinks } = collection
    const lines = [
      `name: '${name}',`,
      `fields: ${JSON.stringify(shapes)},`,
      ...(pages === undefined ? [] : [`pages: ${JSON.stringify(pages)},`]),
      ...(parent === undefined ? [] : [`parent: ${JSON.stringify(parent)},`]),
      ...(backlinks ? ['backlinks: true,'] : []),
      `catalogue: () => ${load(catalogue)},`,
      ...(notes === undefined ? [] : [`notes: () => ${load(notes)},`]),
      ...chunk(collection),
    ]
    return `  {\n${lines.map((line) => `    ${line}\n`).join('')}  },\n`
  }
  const sorted = collections.toSorted((a, b) => (a.name < b.name ? -1 : 1))
  const exports = sorted.map(
    ({ name, isSingle }) =>
      `export const ${name} = /* @__PURE__ */ $.${isSingle ? 'openSingle' : 'openCollection'}($site, '${name}')\n`,
  )
  const list = `[\n${collections.map(emitStored).join('')}]${locales.length > 0 ? `, ${JSON.stringify(locales)}` : ''}`
  return [
    ...head,
    // Collections have names of their own, which no other name here may take.
    `import * as $ from '${runtime}'\n\n`,
    `const $site = /* @__PURE__ */ ${open(list)}\n\n`,
    ...exports,
    'export default /* @__PURE__ */ $.openPages($site)\n',
    ...foot,
  ].join('')
}

/**
 * The number of chunks that are imported by name, which every bundler follows; of more the addresses are worked out.
 */
export const MOST_NAMED_CHUNKS = 64

/** The module of an output. */
export const OUTPUT_FORM: ModuleForm = {
  head: [GENERATED],
  open: (list) => `$.openSite(${list})`,
  load: (path) => `import('./${path}')`,
  chunk({ name, chunks }) {
    const loaded = chunks.filter((path) => /^(?:rows|indexes|bodies)\//.test(path))
    if (loaded.length > MOST_NAMED_CHUNKS) {
      const ignore = '/* @vite-ignore */ /* webpackIgnore: true */'
      return [
        `chunk: (kind, name) => import(${ignore} new URL(\`./\${kind}/${name}-\${name}.js\`, import.meta.url).href),`,
      ]
    }
    const loaders = loaded.map((path) => `      '${path}': () => import('./${path}'),`)
    return ['chunk: (kind, name) =>', '    ({', ...loaders, `    })[\`\${kind}/${name}-\${name}.js\`](),`]
  },
  foot: [],
}
