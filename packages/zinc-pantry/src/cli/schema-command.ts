import { describeCollection, type SiteReport } from '../engine/index.ts'
import { refuse } from './refuse.ts'
import { writeDiagnostics } from './report.ts'
import { type CommonFlags, workOnSite } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** The command `schema`: JSON Schema 2020-12 of a collection on stdout. */
export async function runSchema(collection: string, flags: CommonFlags, surroundings: Surroundings): Promise<number> {
  const { stdout, stderr } = surroundings
  const worked = await workOnSite(flags, surroundings, (options) => describeCollection(options, collection))
  const answer = 'report' in worked ? worked.report : worked.missing
  if ('schema' in answer) {
    stdout.write(`${JSON.stringify(answer.schema, null, 2)}\n`)
    return exitCodes.clean
  }
  if ('diagnostics' in answer) {
    await writeDiagnostics(answer as SiteReport, worked.site, stderr, surroundings)
    return exitCodes.wrongUse
  }
  const help = answer.suggestion ? `Did you mean "${answer.suggestion}"?` : `There are ${answer.known.join(', ')}`
  return refuse(surroundings, `There is no collection "${collection}"`, help)
}
