import { resolve } from 'node:path'
import type { ErrorPayload, Plugin, ResolvedConfig, ViteDevServer } from 'vite'
import { renderText } from '../diagnostics/render-text.ts'
import { CONFIGURATION_FILE, findConfigurationFile } from '../engine/configuration-file.ts'
import { readText } from '../engine/read-text.ts'
import type { BuildReport } from '../engine/site.ts'
import { openSession, type SessionOptions, type SessionOutput, type SiteSession } from '../engine/site-session.ts'
import { type WatchedSite, watchSite } from '../engine/watch-site.ts'
import { createNodeHost } from '../host/node-host.ts'
import { describeForOverlay } from './overlay.ts'
import { createSiteModules, type SiteModules } from './site-modules.ts'

/** Options of the plugin. */
export interface PantryPluginOptions {
  /** The folder of the configuration, relative to the root of Vite. Default: that root. */
  readonly root?: string
  /** The name of the configuration. Default: `pantry.config.ts`, or with the ending `.mts`, `.js` or `.mjs`. */
  readonly configurationFile?: string
  /** Drafts, and what is not yet or no longer to be seen, are part of the site too. Default: false. */
  readonly drafts?: boolean
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
}: PantryPluginOptions = {}): Plugin {
  let config: ResolvedConfig
  let modules: SiteModules
  let options: SessionOptions
  let session: SiteSession | undefined
  let watched: WatchedSite | undefined
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
  const tell = ({ diagnostics, textOf }: BuildReport): void => {
    if (diagnostics.length === 0) return
    const text = renderText(diagnostics, textOf)
    if (diagnostics.some(({ severity }) => severity === 'error')) config.logger.error(text, { timestamp: isServing() })
    else config.logger.warn(text, { timestamp: isServing() })
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
    },
    async configureServer(server) {
      const overlay = createOverlay(server)
      let served: SessionOutput | undefined
      watched = await watchSite({
        ...options,
        onReport(report, _changes, output) {
          modules.replace(output)
          // Not left to the server's own watcher, which may not look at what is generated, or not yet.
          if (served && output && output !== served) server.watcher.emit('change', modules.entry())
          served = output
          tell(report)
          overlay.show(describeForOverlay(report, modules.root))
        },
      })
      server.middlewares.use((request, _response, next) => {
        const file = modules.fileAt(request.url ?? '', config.base)
        if (file !== undefined) request.url = file
        next()
      })
    },
    // Parts never change; those that nothing needs any more are removed, which is no concern of any page.
    hotUpdate: ({ file }) => (modules.isPart(file) ? [] : undefined),
    async buildStart() {
      if (isServing()) return
      building ??= build()
      const report = await building
      building = undefined
      if (this.meta.watchMode) for (const file of session?.files() ?? []) this.addWatchFile(resolve(modules.root, file))
      if (report.output === undefined) this.error(renderText(report.diagnostics, report.textOf))
      tell(report)
    },
    resolveId: (source) => modules.resolve(source),
    load(id, { ssr = false } = {}) {
      return modules.load(id, { ssr, emitFile: (file) => this.emitFile(file) })
    },
    renderChunk(code, { fileName }) {
      const placed = modules.placeParts(code, fileName)
      return placed === undefined ? undefined : { code: placed }
    },
    generateBundle() {
      if (this.environment.config.consumer === 'client') modules.emitFiles((file) => this.emitFile(file))
    },
    async closeBundle() {
      await session?.save()
      if (isServing()) await watched?.close()
    },
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
