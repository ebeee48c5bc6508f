import { refuse } from './refuse.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'
import { readVersion } from './version.ts'

/** The command `language-server`: answers an editor on standard input and output until that ends it. */
export async function runLanguageServer({ openHost, streams, ...surroundings }: Surroundings): Promise<number> {
  if (!streams) return refuse({ openHost, ...surroundings }, 'There is no standard input to be asked on')
  const { createConnection } = await import('vscode-languageserver/node')
  const { serve } = await import('../editor/serve.ts')
  const folder = new URL('../../docs/diagnostics/', import.meta.url)
  const ended = new Promise<void>((resolve) => streams.input.once('end', resolve).once('close', resolve))
  const connection = createConnection(streams.input, streams.output)
  await Promise.race([
    serve(connection, {
      openHost,
      version: readVersion(),
      explain: (code) => new URL(`${code}.md`, folder).href,
      clock: () => new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
    }),
    ended,
  ])
  connection.dispose()
  return exitCodes.clean
}
