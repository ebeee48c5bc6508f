import { basename } from 'node:path'
import { startInspector } from '../inspect/server.ts'
import { createPalette } from './palette.ts'
import { refuse } from './refuse.ts'
import { writeDiagnostics } from './report.ts'
import { type CommonFlags, findSite } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** Options of `inspect`. */
export interface InspectFlags extends CommonFlags {
  readonly port?: number
  readonly readOnly?: boolean
  /** Whether a browser is to be opened. */
  readonly open: boolean
}

/** The command `inspect`: a page of this machine that shows a site and changes it, until it is ended. */
export async function runInspect(flags: InspectFlags, surroundings: Surroundings): Promise<number> {
  const { stdout } = surroundings
  const { site, missing } = findSite(flags, surroundings)
  if (missing) {
    await writeDiagnostics(missing, site, surroundings.stderr, surroundings)
    return exitCodes.wrongUse
  }
  const { port, readOnly = false } = flags
  try {
    const inspector = await startInspector({
      ...{ host: surroundings.openHost(site.root), configurationFile: site.configurationFile },
      ...{ name: basename(site.root), isReadOnly: readOnly },
      ...(port === undefined ? {} : { port }),
    })
    const { faint, strong } = createPalette(stdout, surroundings)
    const rights = readOnly ? ', for reading only' : ''
    stdout.write(`${strong(basename(site.root))} is open at ${inspector.address}\n`)
    stdout.write(faint(`On this machine only, with the token in the address${rights}; Ctrl+C ends it\n`))
    inspector.prepare()
    if (flags.open && stdout.isTTY) {
      const { default: open } = await import('open')
      // Where there is no browser, the address is there to be copied.
      await open(inspector.address).catch(() => undefined)
    }
    await surroundings.stopped()
    await inspector.close()
    return exitCodes.clean
  } catch (error) {
    if (!(error instanceof Error && 'code' in error)) throw error
    return refuse(surroundings, `The page cannot be served: ${error.message}`)
  }
}
