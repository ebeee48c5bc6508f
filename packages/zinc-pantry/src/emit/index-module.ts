import type { Shape } from '../schema/field.ts'
import { GENERATED } from './heads.ts'

/** A collection in the generated module. */
export interface EmittedModule {
  readonly name: string
  readonly isSingle: boolean
  readonly shapes: Readonly<Record<string, Shape>>
  /** Paths below the generated folder. */
  readonly catalogue: string
  readonly notes?: string
  readonly parts: readonly string[]
  /** How large the orders are that it keeps, by their names, in bytes. */
  readonly orderSizes: Readonly<Record<string, number>>
}

/** So many parts are imported by name, which every bundler follows; of more the addresses are worked out. */
export const MOST_NAMED_PARTS = 64

/** The text of the generated module. */
export function emitIndexModule(collections: readonly EmittedModule[], locales: readonly string[]): string {
  const sorted = collections.toSorted((a, b) => (a.name < b.name ? -1 : 1))
  const exports = sorted.map(
    ({ name, isSingle }) =>
      `export const ${name} = /* @__PURE__ */ $.${isSingle ? 'openSingle' : 'openCollection'}($site, '${name}')\n`,
  )
  return [
    GENERATED,
    // Collections have names of their own, which no other name here may take.
    "import * as $ from 'zinc-pantry/query'\n\n",
    `const $site = /* @__PURE__ */ $.openSite([\n${collections.map(emitStored).join('')}]`,
    `${locales.length > 0 ? `, ${JSON.stringify(locales)}` : ''})\n\n`,
    ...exports,
  ].join('')
}

function emitStored({ name, shapes, catalogue, notes, parts }: EmittedModule): string {
  const lines = [
    `name: '${name}',`,
    `fields: ${JSON.stringify(shapes)},`,
    `catalogue: () => import('./${catalogue}'),`,
    ...(notes === undefined ? [] : [`notes: () => import('./${notes}'),`]),
    ...emitLoader(
      name,
      parts.filter((path) => /^(?:rows|indexes|bodies)\//.test(path)),
    ),
  ]
  return `  {\n${lines.map((line) => `    ${line}\n`).join('')}  },\n`
}

function emitLoader(name: string, parts: readonly string[]): string[] {
  if (parts.length > MOST_NAMED_PARTS) {
    const ignore = '/* @vite-ignore */ /* webpackIgnore: true */'
    return [
      `part: (kind, name) => import(${ignore} new URL(\`./\${kind}/${name}-\${name}.js\`, import.meta.url).href),`,
    ]
  }
  const loaders = parts.map((path) => `      '${path}': () => import('./${path}'),`)
  return ['part: (kind, name) =>', '    ({', ...loaders, `    })[\`\${kind}/${name}-\${name}.js\`](),`]
}
