import type { RenderedBody } from '../emit/body-chunk.ts'
import type { SessionOutput } from '../engine/site-session.ts'

/** The bodies of a site as modules: each can be loaded, replaced and split off by itself. */
export interface BodyModules {
  /** By the names of their modules, which say their content. */
  readonly bodies: ReadonlyMap<string, RenderedBody>
  /** The code of the module that leads to the bodies of a collection. */
  listCode(collection: string): string | undefined
}

/** Names the modules of all bodies of an output. */
export function listBodyModules(
  { bodies: chunks }: SessionOutput,
  { nameOf, idOf }: { nameOf(body: RenderedBody): string; idOf(name: string): string },
): BodyModules {
  const bodies = new Map<string, RenderedBody>()
  const lists = new Map<string, string>()
  for (const [collection, own] of chunks) {
    const lines = own.map((chunk) => {
      const loaders = chunk.bodies.map((body) => {
        if (!body) return 'null'
        const name = nameOf(body)
        bodies.set(name, body)
        return `() => import(${JSON.stringify(idOf(name))})`
      })
      return `  '${chunk.name}': [${loaders.join(', ')}],\n`
    })
    lists.set(collection, emitList(lines))
  }
  return { bodies, listCode: (collection) => lists.get(collection) }
}

/** A body is loaded when it is asked for, not with those beside it. */
const emitList = (lines: readonly string[]): string =>
  [
    `const parts = {\n${lines.join('')}}\n`,
    'const handler = { get: (list, at) => list[at]?.().then((module) => module.default) ?? null }\n',
    'export const chunk = (name) => ({ default: new Proxy(parts[name], handler) })\n',
  ].join('')
