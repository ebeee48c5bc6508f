import { resolve } from 'node:path'
import type { ErrorPayload, Logger, Plugin, ResolvedConfig, ViteDevServer } from 'vite'
import { CONFIGURATION_FILE, findConfigurationFile } from '../engine/configuration-file.ts'
import { readText } from '../engine/read-text.ts'
import type { BuildReport } from '../engine/site-report.ts'
import type { SessionOptions, SessionOutput, SiteSession } from '../engine/site-session.ts'
import type { WatchedSite } from '../engine/watch-site.ts'
import { createNodeHost } from '../host/node-host.ts'
import { standBeside } from './inspector.ts'
import { describeForOverlay } from './overlay.ts'
import { createSiteModules, type SiteModules } from './site-modules.ts'
import { createTeller } from './tell.ts'

/** Options of the plugin. */
export interface PantryPluginOptions {
  /** The folder of the configuration, relative to the root of Vite. Default: that root. */
  readonly root?: string
  /** The name of the configuration. Default: `pantry.config.ts`, or with the ending `.mts`, `.js` or `.mjs`. */
  readonly configurationFile?: string
  /** Drafts, and what is not yet or no longer to be seen, are part of the site too. Default: false. */
  readonly drafts?: boolean
  /** While serving, a page that shows the content and changes it stands at an address that the terminal names. Default: true. */
  readonly inspect?: boolean
}

/**
 * Compiles the content of a site with Vite: before a build, and while serving whenever something changes. `#pantry` is
 * the compiled site, in pages and in server-side rendering alike. While serving, problems are shown over the page and
 * in the terminal, and a page is told of a change only where it has used what changed: by the event
 * `zinc-pantry:change` of the window, or else by loading anew. Bodies are modules of their own, with the files that they
 * show. A build fails where the content has errors.
 *
 * Diagnostics: all of `buildSite`.
 *
 * @example
 * ```ts
 * import { defineConfig } from 'vite'
 * import { zincPantry } from 'zinc-pantry/vite'
 *
 * export default defineConfig({ plugins: [zincPantry()] })
 * ```
 */
export function zincPantry({
  root: folder = '.',
  configurationFile,
  drafts = false,
  inspect = true,
}: PantryPluginOptions = {}): Plugin {
  let config: ResolvedConfig
  let modules: SiteModules
  let options: SessionOptions
  let session: SiteSession | undefined
  let served: ServedSite | undefined
  let inspector: ReturnType<typeof standBeside> | undefined
  let building: Promise<BuildReport> | undefined
  let last: BuildReport | undefined
  const isServing = (): boolean => config.command === 'serve'

  const build = async (): Promise<BuildReport> => {
    // The engine is loaded when there is something to do: a server listens before.
    session ??= (await import('../engine/site-session.ts')).openSession(options)
    const built = await session.build(undefined)
    modules.replace(session.output())
    last = built?.report ?? last
    return last as BuildReport
  }
  /** The words of what was found, without a stack: it is the content that is at fault. */
  const failWith = async ({ diagnostics, textOf }: BuildReport): Promise<never> => {
    const { renderText } = await import('../diagnostics/render-text.ts')
    const error = new Error(renderText(diagnostics, textOf, { isGrouped: true }))
    error.stack = ''
    throw error
  }

  return {
    name: 'zinc-pantry',
    enforce: 'pre',
    config: () => ({ optimizeDeps: { exclude: ['zinc-pantry'] } }),
    configResolved(resolved) {
      config = resolved
      const root = resolve(config.root, folder)
      const host = createNodeHost(root)
      const found = findConfigurationFile(host) ?? CONFIGURATION_FILE
      options = { host, configurationFile: configurationFile ?? found, drafts, sourceMaps: true }
      modules = createSiteModules({
        root,
        digest: host.digest,
        read: (file) => readText(host, file),
        isServing: isServing(),
      })
      // A site beside what Vite serves may be served too.
      resolved.server.fs.allow.push(modules.root)
    },
    configureServer(server) {
      if (inspect) inspector = standBeside(server, { ...options, root: modules.root })
      served = serveSite(server, { options, modules, config })
    },
    // Parts never change; those that nothing needs any more are removed, which is no concern of any page.
    hotUpdate: ({ file }) => (modules.isChunk(file) ? [] : undefined),
    async buildStart() {
      if (isServing()) return
      building ??= build()
      const report = await building
      building = undefined
      if (this.meta.watchMode) for (const file of session?.files() ?? []) this.addWatchFile(resolve(modules.root, file))
      if (report.output === undefined) await failWith(report)
      else createTeller(config.logger)(report, [])
    },
    async resolveId(source, _importer, context) {
      const { scan } = context as { readonly scan?: boolean }
      // Whoever looks for packages to bundle does so before there is a page; those of content are found with the first one.
      if (served?.isReady === false && !scan) await served.ready()
      return modules.resolve(source)
    },
    async load(id, { ssr = false } = {}) {
      if (served?.isReady === false) await served.ready()
      return modules.load(id, { ssr, emitFile: (file) => this.emitFile(file) })
    },
    renderChunk(code, { fileName }) {
      const placed = modules.placeChunks(code, fileName)
      return placed === undefined ? undefined : { code: placed }
    },
    generateBundle() {
      if (this.environment.config.consumer === 'client') modules.emitFiles((file) => this.emitFile(file))
    },
    async closeBundle() {
      await session?.save()
      await inspector?.close()
      await served?.close()
    },
  }
}

/** A site that is served. */
interface ServedSite {
  readonly isReady: boolean
  /** Builds the site, where that has not begun, and waits until it is there. */
  ready(): Promise<void>
  close(): Promise<void>
}

/** The surroundings of a site that is served. */
interface Serving {
  readonly options: SessionOptions
  readonly modules: SiteModules
  readonly config: ResolvedConfig
}

/**
 * Builds a site, for the first time once a server listens, and whenever something changes, and tells the server's pages of it. What is
 * asked for before the site is there waits for it.
 */
function serveSite(server: ViteDevServer, { options, modules, config }: Serving): ServedSite {
  hideUpdates(config.logger, () => modules.entry())
  const tell = createTeller(config.logger)
  const follow = createFollower(server, modules)
  let watched: Promise<WatchedSite> | undefined
  let isReady = false
  const start = async (): Promise<WatchedSite> => {
    const { watchSite } = await import('../engine/watch-site.ts')
    const started = await watchSite({
      ...options,
      onReport(report, changes, output) {
        follow(report, output)
        tell(report, changes)
      },
    })
    isReady = true
    return started
  }
  const ready = async (): Promise<void> => {
    watched ??= start()
    await watched
  }
  const begin = (): void => {
    ready().catch((error: unknown) => config.logger.error(error instanceof Error ? error.message : String(error)))
  }
  /** Whoever started the server says so first: that is when it knows its addresses. */
  const beginSoon = (left: number): void => {
    if (server.resolvedUrls || left === 0) setTimeout(begin)
    else setTimeout(() => beginSoon(left - 1), PAUSE_MS)
  }
  if (server.httpServer) server.httpServer.once('listening', () => beginSoon(MOST_PAUSES))
  else begin()
  server.middlewares.use((request, _response, next) => {
    const pass = (): void => {
      const file = modules.fileAt(request.url ?? '', config.base)
      if (file !== undefined) request.url = file
      next()
    }
    if (isReady) pass()
    else ready().then(pass, next)
  })
  return {
    get isReady() {
      return isReady
    },
    ready,
    close: async () => (await watched?.catch(() => undefined))?.close(),
  }
}

/** How long, and how often, a server that listens is left alone before the content is built. */
const PAUSE_MS = 5
const MOST_PAUSES = 40

/** Takes over what each build gives, and tells pages of it. */
function createFollower(
  server: ViteDevServer,
  modules: SiteModules,
): (report: BuildReport, output: SessionOutput | undefined) => void {
  const overlay = createOverlay(server)
  let served: SessionOutput | undefined
  let isFirst = true
  return (report, output) => {
    modules.replace(output)
    modules.expect(report)
    // Not left to the server's own watcher, which may not look at what is generated, or not yet.
    if (served && output && output !== served) server.watcher.emit('change', modules.entry())
    // What pages got in place of the site is none of it.
    else if (!isFirst && !served && output) loadAnew(server)
    served = output
    isFirst = false
    overlay.show(describeForOverlay(report, modules.root))
  }
}

/** Takes all pages of a server to be made anew. */
function loadAnew(server: ViteDevServer): void {
  for (const { moduleGraph } of Object.values(server.environments)) moduleGraph.invalidateAll()
  server.ws.send({ type: 'full-reload' })
}

/** The server's own lines would name a generated file; what was saved is told by ourselves. */
function hideUpdates(logger: Logger, entry: () => string): void {
  const info = logger.info.bind(logger)
  logger.info = (text, options) => {
    const isUpdate = /hmr update|page reload/.test(text)
    const name = entry().split('/').slice(-3).join('/')
    if (!isUpdate || name === '' || !text.includes(name)) info(text, options)
  }
}

/** Shows errors over the pages of a server, also those opened later, until they are mended. */
function createOverlay(server: ViteDevServer): { show(error: ErrorPayload | undefined): void } {
  let shown: ErrorPayload | undefined
  server.ws.on('connection', () => {
    if (shown) server.ws.send(shown)
  })
  return {
    show(error) {
      if (error) server.ws.send(error)
      // An update of nothing takes the overlay away.
      else if (shown) server.ws.send({ type: 'update', updates: [] })
      shown = error
    },
  }
}
