import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { RenderedBody } from '../emit/body-chunk.ts'
import { emitSiteModule, MOST_NAMED_CHUNKS } from '../emit/site-module.ts'
import type { SiteReport } from '../engine/site-report.ts'
import type { SessionOutput } from '../engine/site-session.ts'
import { emitBodyModule, type ModuleText } from './body-module.ts'
import { listBodyModules } from './body-modules.ts'
import { type Addresses, createBundledForm } from './site-module.ts'

/** A file beside the bundle. */
interface EmittedFile {
  readonly type: 'asset'
  readonly fileName: string
  readonly source: string | Uint8Array
}

/** The surroundings of the loading of a module. */
interface LoadContext {
  readonly ssr: boolean
  /** Gives a file to the bundle. */
  emitFile(file: EmittedFile): string
}

/** The modules of a site, as a bundler asks for them. */
export interface SiteModules {
  /** The absolute path of the root, with forward slashes. */
  readonly root: string
  /** Takes what a build wrote. */
  replace(output: SessionOutput | undefined): void
  /** Takes the names of the collections there will be, while nothing was written yet because of errors. */
  expect(report: Pick<SiteReport, 'collectionNames'>): void
  resolve(source: string): string | undefined
  load(id: string, context: LoadContext): ModuleText | string | undefined
  /** The absolute path of the module of the site. */
  entry(): string
  /** True for a chunk of the output, by its absolute path. */
  isChunk(file: string): boolean
  /** The path by which a server finds a file of the content folder that an address means. */
  fileAt(url: string, base: string): string | undefined
  /** Code of a file of the bundle, in which chunks are found. */
  placeChunks(code: string, fileName: string): string | undefined
  /** Gives files that entries name to the bundle. */
  emitFiles(emit: (file: EmittedFile) => string): void
}

const PREFIX = 'virtual:zinc-pantry/'
/** The folder of the bundle in which chunks are. */
const CHUNKS_FOLDER = 'pantry'
/** Stands in code for the way from a file of the bundle to that folder. */
const CHUNKS_PLACE = '__ZINC_PANTRY_CHUNKS__'

/** The modules of one output. */
interface OwnModules {
  readonly bodies: ReadonlyMap<string, RenderedBody>
  /** Code of lists of bodies, by their names. */
  readonly lists: ReadonlyMap<string, string>
  /** By the names of collections. */
  readonly listNames: ReadonlyMap<string, string>
}

/** Makes the modules of a site. Bodies and lists of them are named by their content, so that none ever changes. */
export function createSiteModules({
  root: folder,
  digest,
  read,
  isServing,
}: {
  readonly root: string
  digest(text: string): string
  /** Gives the text of a file of the site. */
  read(file: string): string | undefined
  readonly isServing: boolean
}): SiteModules {
  const root = folder.replaceAll('\\', '/')
  const names = new WeakMap<RenderedBody, string>()
  const nameOf = (body: RenderedBody): string => {
    const known = names.get(body) ?? digest(JSON.stringify(body))
    names.set(body, known)
    return known
  }
  /** Modules of bodies and of lists, those of the output before included: a page may still ask for them. */
  let bodies: ReadonlyMap<string, RenderedBody> = new Map()
  let lists: ReadonlyMap<string, string> = new Map()
  let output: SessionOutput | undefined
  let expected: readonly string[] = []
  /** Files of the content folder that the output names. */
  let assets: ReadonlySet<string> = new Set()
  /** Images that were made, relative to the generated folder. */
  let made: ReadonlySet<string> = new Set()
  let own: OwnModules = { bodies, lists, listNames: new Map() }

  const folderOf = (current: SessionOutput): string => `${root}/${current.folder}`
  const entry = (): string => (output ? `${folderOf(output)}/index.js` : '')

  return {
    root,
    replace(next) {
      if (!next || next === output) return
      const listed = listBodyModules(next, { nameOf, idOf: (name) => `${PREFIX}body/${name}.js` })
      const codes = next.collections.flatMap(({ name }) => {
        const code = listed.listCode(name)
        return code === undefined ? [] : [{ name, code, id: `${PREFIX}bodies/${name}-${digest(code)}.js` }]
      })
      const before = own
      own = {
        bodies: listed.bodies,
        lists: new Map(codes.map(({ id, code }) => [id, code])),
        listNames: new Map(codes.map(({ name, id }) => [name, id])),
      }
      bodies = new Map([...before.bodies, ...own.bodies])
      lists = new Map([...before.lists, ...own.lists])
      output = next
      assets = next.assets()
      made = new Set(next.renditions().map(({ file }) => file))
    },
    expect({ collectionNames }) {
      expected = collectionNames
    },
    resolve(source) {
      if (source === '#pantry') return output ? entry() : `${PREFIX}none.js`
      return source.startsWith(PREFIX) ? source : undefined
    },
    load(id, context) {
      const path = id.replace(/\?[\s\S]*/, '')
      if (output && path === entry())
        return emitSiteModule(
          output.collections,
          output.locales,
          createBundledForm(addressesIn(folderOf(output), { ...context, isServing, listNames: own.listNames })),
        )
      if (path === `${PREFIX}none.js`) return emitNothing(expected, context.ssr)
      if (!path.startsWith(PREFIX)) return undefined
      const body = bodies.get(path.slice(`${PREFIX}body/`.length, -'.js'.length))
      if (!body || !output) return lists.get(path)
      return emitBodyModule(body, { root, content: output.content, output: output.folder, read })
    },
    entry,
    isChunk: (file) => output !== undefined && file.startsWith(`${folderOf(output)}/`) && file !== entry(),
    fileAt(url, base) {
      if (!output) return undefined
      const file = assetOf(url, `${base.replace(/\/$/, '')}${output.assetBase}`)
      if (file === undefined || !(assets.has(file) || made.has(file))) return undefined
      const folder = assets.has(file) ? output.content : output.folder
      return `${base}@fs${encodeURI(`${root.startsWith('/') ? '' : '/'}${root}/${folder}/${file}`)}`
    },
    placeChunks,
    emitFiles(emit) {
      for (const [fileName, path] of output ? listAssets(output, assets, made) : []) {
        const file = join(root, path)
        // What an earlier build of the same watch named may be gone.
        if (existsSync(file)) emit({ type: 'asset', fileName, source: readFileSync(file) })
      }
    },
  }
}

/** The names of files in the bundle, and where they are. An address elsewhere is served elsewhere. */
function listAssets(
  { assetBase, content, folder }: SessionOutput,
  assets: ReadonlySet<string>,
  made: ReadonlySet<string>,
): (readonly [fileName: string, path: string])[] {
  const start = assetBase.replace(/^\//, '')
  if (start.includes(':')) return []
  const named = (files: ReadonlySet<string>, from: string) =>
    Array.from(files, (file) => [`${start}${file}`, `${from}/${file}`] as const)
  return [...named(assets, content), ...named(made, folder)]
}

/** The file of the content folder that an address means, by the start of all addresses of files. */
function assetOf(url: string, start: string): string | undefined {
  const path = decode(url.replace(/[?#][\s\S]*/, ''))
  return path?.startsWith(start) ? path.slice(start.length) : undefined
}

/** Puts the way to the chunks into a file of the bundle. */
function placeChunks(code: string, fileName: string): string | undefined {
  if (!code.includes(CHUNKS_PLACE)) return undefined
  const way = '../'.repeat(fileName.split('/').length - 1) || './'
  return code.replaceAll(CHUNKS_PLACE, `${way}${CHUNKS_FOLDER}/`)
}

/** The surroundings of the module of a site. */
interface AddressContext extends LoadContext {
  readonly isServing: boolean
  /** The names of the modules with lists of bodies, by collection. */
  readonly listNames: ReadonlyMap<string, string>
}

/** The addresses of an output in a folder, as the module of the site names them. */
function addressesIn(folder: string, { ssr, emitFile, isServing, listNames }: AddressContext): Addresses {
  const load = (path: string): string => `import(${JSON.stringify(`${folder}/${path}`)})`
  return {
    load,
    isHot: isServing,
    bodies: (collection) => listNames.get(collection),
    loadChunk({ name, chunks }) {
      if (isServing) return serveChunks(name, folder, ssr)
      const loaded = chunks.filter((path) => /^(?:rows|indexes)\//.test(path))
      // More are put beside the bundle; that for a server has no files beside it.
      if (loaded.length > MOST_NAMED_CHUNKS && !ssr) {
        for (const path of loaded)
          emitFile({
            type: 'asset',
            fileName: `${CHUNKS_FOLDER}/${path}`,
            source: readFileSync(`${folder}/${path}`),
          })
        return `return import(/* @vite-ignore */ new URL(\`${CHUNKS_PLACE}\${kind}/${name}-\${name}.js\`, $url).href)`
      }
      const loaders = loaded.map((path) => `'${path}': () => ${load(path)}`).join(', ')
      return `return ({ ${loaders} })[\`\${kind}/${name}-\${name}.js\`]()`
    },
  }
}

/** The module of a site of which nothing is written yet: pages wait for it, below the overlay that says why. */
function emitNothing(names: readonly string[], ssr: boolean): string {
  const wait = ssr
    ? "throw new Error('The content of the site has errors, which the terminal shows')\n"
    : 'await new Promise(() => undefined)\n'
  return [...names.map((name) => `export let ${name}\n`), wait].join('')
}

/** While serving, chunks are loaded from where they are. */
function serveChunks(name: string, folder: string, ssr: boolean): string {
  const path = `${encodeURI(folder)}/\${kind}/${name}-\${name}.js`
  const rooted = path.startsWith('/') ? path : `/${path}`
  const address = ssr ? `\`file://${rooted}\`` : `\`\${import.meta.env.BASE_URL}@fs${rooted}\``
  return `return import(/* @vite-ignore */ ${address})`
}

function decode(path: string): string | undefined {
  try {
    return decodeURI(path)
  } catch {
    return undefined
  }
}
