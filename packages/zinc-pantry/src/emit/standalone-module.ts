import { GENERATED } from './entry-files.ts'
import type { ModuleForm } from './site-module.ts'

/** The texts of chunks by their paths. */
export type ChunkTexts = ReadonlyMap<string, string>

/** The parts of a chunk: the size that it tells, and its content. */
const CHUNK = /^(?:export const size = (\d+)\n)?export default ([\s\S]*)\n$/

/**
 * The form of a module that a page loads without a bundler: it names the query runtime by its path, `runtime`, and holds those chunks
 * whose texts are given.
 */
export function createStandaloneForm(runtime: string, texts: ChunkTexts): ModuleForm {
  const held = [...texts].flatMap(([path, text]): string[] => {
    const [, size, content] = CHUNK.exec(text) ?? []
    // Code that imports is relative to its own file.
    if (content === undefined || text.includes('import.meta')) return []
    return [`  '${path}': () => ({${size === undefined ? '' : ` size: ${size},`} default: ${content} }),\n`]
  })
  /** The code that loads a chunk by the code of its path. */
  const load = (path: string): string => `(chunks[${path}]?.() ?? import(new URL(${path}, import.meta.url).href))`
  return {
    runtime,
    head: [GENERATED],
    // The chunks have no name that a collection could have.
    open: (list) => `((chunks) => $.openSite(${list}))({\n${held.join('')}})`,
    load: (path) => `Promise.resolve(${load(`'${path}'`)})`,
    chunk: ({ name }) => [`chunk: async (kind, name) => ${load(`\`\${kind}/${name}-\${name}.js\``)},`],
    foot: ['export { $ }\n'],
  }
}

/** The types of such a module. */
export const STANDALONE_TYPES = `${GENERATED}export * from './index.js'\nexport { default } from './index.js'\nexport * as $ from 'zinc-pantry/query'\n`
