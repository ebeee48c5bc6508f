import { relative, resolve, sep } from 'node:path'
import { plural } from '../diagnostics/words.ts'
import { describeCollection, type SiteReport, writeSchemas } from '../engine/index.ts'
import { refuse } from './refuse.ts'
import { writeDiagnostics } from './report.ts'
import { askSite, type CommonFlags, findSite, workOnSite } from './site-command.ts'
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

/** The command `schema --write`: the schemas of all collections, in a folder. */
export async function runWriteSchemas(folder: string, flags: CommonFlags, surroundings: Surroundings): Promise<number> {
  const { root } = findSite(flags, surroundings).site
  const path = relative(root, resolve(surroundings.folder, folder)).split(sep).join('/')
  if (path === '' || path === '..' || path.startsWith('../'))
    return refuse(surroundings, `${folder} is no folder below the configuration`, 'Name one, such as schemas')
  const asked = await askSite(flags, surroundings, (options) => writeSchemas(options, path))
  if (!asked) return exitCodes.wrongUse
  const { files, foreign } = asked.answer
  if (foreign.length > 0)
    return refuse(surroundings, `Nothing was written: ${foreign.join(', ')} is not ours`, 'Name another folder')
  surroundings.stdout.write(`${plural(files.length, 'schema', 'schemas')} in ${path}; builds keep them fresh\n`)
  return exitCodes.clean
}
