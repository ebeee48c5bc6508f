import { basename } from 'node:path'
import type { ViteDevServer } from 'vite'
import type { Host } from '../host/host.ts'
import type { Inspector } from '../inspect/server.ts'

/** The site that an inspector stands beside. */
export interface InspectedBeside {
  readonly host: Host
  readonly configurationFile: string
  readonly root: string
}

/**
 * Starts an inspector where a server tells its addresses in the terminal, and names its own there. It has a port of its own, since
 * scripts of the site could call what is served beside them.
 */
export function standBeside(server: ViteDevServer, { host, configurationFile, root }: InspectedBeside) {
  const print = server.printUrls.bind(server)
  let started: Promise<Inspector> | undefined
  const start = async (): Promise<Inspector> => {
    const { startInspector } = await import('../inspect/server.ts')
    const address = (): string | undefined => server.resolvedUrls?.local[0]
    return startInspector({ host, configurationFile, name: basename(root), address })
  }
  const tell = (line: string): void => server.config.logger.info(line)
  server.printUrls = () => {
    print()
    started ??= start()
    started.then(
      ({ address }) => tell(`  ➜  Content: ${address}`),
      (error: unknown) => tell(`  The inspector cannot be served: ${error instanceof Error ? error.message : error}`),
    )
  }
  return { close: async () => (await started?.catch(() => undefined))?.close() }
}
