import type { RenderedBody } from '../emit/bodies.ts'
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
  { bodies: partNames, rendered }: SessionOutput,
  { nameOf, idOf }: { nameOf(body: RenderedBody): string; idOf(name: string): string },
): BodyModules {
  const bodies = new Map<string, RenderedBody>()
  const lists = new Map<string, string>()
  for (const [collection, parts] of rendered) {
    const own = partNames.get(collection) ?? []
    const lines = parts.map((part, at) => {
      const loaders = part.rendered.map((body) => {
        if (!body) return 'null'
        const name = nameOf(body)
        bodies.set(name, body)
        return `() => import(${JSON.stringify(idOf(name))})`
      })
      return `  '${own[at]}': [${loaders.join(', ')}],\n`
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
    'export const part = (name) => ({ default: new Proxy(parts[name], handler) })\n',
  ].join('')
