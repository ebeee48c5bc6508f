import type { EmittedModule } from '../emit/index-module.ts'

/** How a bundler reaches what a module of a site loads. */
export interface Addresses {
  /** The code that gives a module of the output, by its path there. */
  load(path: string): string
  /** The code of a function body that gives a part of rows or of an index, by its `kind` and `name`. */
  loadPart(collection: EmittedModule): string
  /** The name of the module with the bodies of a collection; undefined where it has none. */
  bodies(collection: string): string | undefined
  /** True where the module can be replaced in a running page. */
  readonly isHot: boolean
}

/** The module that stands for that of an output, while a bundler serves it. */
export function emitSiteModule(
  collections: readonly EmittedModule[],
  locales: readonly string[],
  addresses: Addresses,
): string {
  const stored = collections.map((one) => emitStored(one, addresses)).join('')
  const exports = collections.map(
    ({ name, isSingle }) =>
      `export const ${name} = /* @__PURE__ */ $.${isSingle ? 'openSingle' : 'openCollection'}($site, '${name}')\n`,
  )
  const list = `[\n${stored}], ${JSON.stringify(locales)}`
  const site = addresses.isHot ? `$hot.openHotSite(import.meta.hot, ${list})` : `$.openSite(${list})`
  return [
    "import * as $ from 'zinc-pantry/query'\n",
    ...(addresses.isHot ? ["import * as $hot from 'zinc-pantry/vite/client'\n"] : []),
    // Bundlers take an address that is worked out from this for a search for files.
    'const $url = import.meta.url\n',
    `const $site = /* @__PURE__ */ ${site}\n`,
    ...exports,
    ...(addresses.isHot ? ['import.meta.hot?.accept()\n'] : []),
  ].join('')
}

function emitStored(collection: EmittedModule, addresses: Addresses): string {
  const { name, shapes, catalogue, notes } = collection
  const bodies = addresses.bodies(name)
  const lines = [
    `name: '${name}',`,
    `fields: ${JSON.stringify(shapes)},`,
    `catalogue: () => ${addresses.load(catalogue)},`,
    ...(notes === undefined ? [] : [`notes: () => ${addresses.load(notes)},`]),
    'async part(kind, name) {',
    ...(bodies === undefined
      ? []
      : [`  if (kind === 'bodies') return (await import(${JSON.stringify(bodies)})).part(name)`]),
    `  ${addresses.loadPart(collection)}`,
    '},',
  ]
  return `  {\n${lines.map((line) => `    ${line}\n`).join('')}  },\n`
}
