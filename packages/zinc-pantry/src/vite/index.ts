import { resolve } from 'node:path'
import type { ErrorPayload, Logger, Plugin, ResolvedConfig, ViteDevServer } from 'vite'
import { renderText } from '../diagnostics/render-text.ts'
import { CONFIGURATION_FILE, findConfigurationFile } from '../engine/configuration-file.ts'
import { readText } from '../engine/read-text.ts'
import type { BuildReport } from '../engine/site-report.ts'
import { openSession, type SessionOptions, type SessionOutput, type SiteSession } from '../engine/site-session.ts'
import { type WatchedSite, watchSite } from '../engine/watch-site.ts'
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
  let watched: WatchedSite | undefined
  let inspector: ReturnType<typeof standBeside> | undefined
  let building: Promise<BuildReport> | undefined
  let last: BuildReport | undefined
  const isServing = (): boolean => config.command === 'serve'

  const build = async (): Promise<BuildReport> => {
    session ??= openSession(options)
    const built = await session.build(undefined)
    modules.replace(session.output())
    last = built?.report ?? last
    return last as BuildReport
  }
  /** The words of what was found, without a stack: it is the content that is at fault. */
  const failWith = ({ diagnostics, textOf }: BuildReport): never => {
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
    async configureServer(server) {
      if (inspect) inspector = standBeside(server, { ...options, root: modules.root })
      watched = await serveSite(server, { options, modules, config })
    },
    // Parts never change; those that nothing needs any more are removed, which is no concern of any page.
    hotUpdate: ({ file }) => (modules.isChunk(file) ? [] : undefined),
    async buildStart() {
      if (isServing()) return
      building ??= build()
      const report = await building
      building = undefined
      if (this.meta.watchMode) for (const file of session?.files() ?? []) this.addWatchFile(resolve(modules.root, file))
      if (report.output === undefined) failWith(report)
      else createTeller(config.logger)(report, [])
    },
    resolveId: (source) => modules.resolve(source),
    load(id, { ssr = false } = {}) {
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
      if (isServing()) await watched?.close()
    },
  }
}

/** A site that is served. */
interface Served {
  readonly options: SessionOptions
  readonly modules: SiteModules
  readonly config: ResolvedConfig
}

/** Builds a site whenever something changes, and tells a server's pages of it. */
async function serveSite(server: ViteDevServer, { options, modules, config }: Served): Promise<WatchedSite> {
  hideUpdates(config.logger, () => modules.entry())
  const overlay = createOverlay(server)
  const tell = createTeller(config.logger)
  let served: SessionOutput | undefined
  let isFirst = true
  const watched = await watchSite({
    ...options,
    onReport(report, changes, output) {
      modules.replace(output)
      modules.expect(report)
      // Not left to the server's own watcher, which may not look at what is generated, or not yet.
      if (served && output && output !== served) server.watcher.emit('change', modules.entry())
      // What pages got in place of the site is none of it.
      else if (!isFirst && !served && output) loadAnew(server)
      served = output
      isFirst = false
      tell(report, changes)
      overlay.show(describeForOverlay(report, modules.root))
    },
  })
  server.middlewares.use((request, _response, next) => {
    const file = modules.fileAt(request.url ?? '', config.base)
    if (file !== undefined) request.url = file
    next()
  })
  return watched
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
