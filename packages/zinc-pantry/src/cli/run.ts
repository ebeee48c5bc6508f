import { Command, CommanderError, InvalidArgumentError } from 'commander'
import {
  addExtract,
  addImport,
  addInfer,
  addMove,
  addNew,
  addRemove,
  addRename,
  addSet,
  addUndo,
} from './change-commands.ts'
import { drafts, formats, root, type Setup } from './command-options.ts'
import type { ImpactFlags } from './impact-command.ts'
import type { InspectFlags } from './inspect-command.ts'
import type { QueryFlags } from './query-command.ts'
import { refuse } from './refuse.ts'
import type { ShowFlags } from './show-command.ts'
import type { BuildFlags, CheckFlags, CommonFlags } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'
import { readVersion } from './version.ts'

/**
 * Runs a command line, without the program's own name in it, and gives the exit code: 0 clean, 1
 * content problems, 2 wrong use.
 */
export async function run(argv: readonly string[], surroundings: Surroundings): Promise<number> {
  let code: number = exitCodes.clean
  const program = createProgram(surroundings, (given) => {
    code = given
  })
  try {
    await program.parseAsync(argv.length === 0 ? ['--help'] : [...argv], { from: 'user' })
    return code
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? exitCodes.clean : exitCodes.wrongUse
    throw error
  }
}

function createProgram(surroundings: Surroundings, setCode: (code: number) => void): Command {
  const { stdout, stderr } = surroundings
  const program = new Command('zinc-pantry')
    .description('Checks, compiles and changes the content of a site, by its pantry.config.ts.')
    .version(readVersion(), '-V, --version', 'print the version')
    .helpOption('-h, --help', 'print help, also of one command')
    .helpCommand('help [command]', 'print help, also of one command')
    .exitOverride()
    .configureOutput({ writeOut: (text) => stdout.write(text), writeErr: (text) => stderr.write(text) })
    .showSuggestionAfterError()
  // Those of one command are drawn as ever.
  const { formatHelp } = program.createHelp()
  program.configureHelp({
    formatHelp: (command, helper) =>
      command === program ? describeCommands(program) : formatHelp.call(helper, command, helper),
  })
  const setup = { program, surroundings, setCode }
  program.commandsGroup('Look')
  addShow(setup)
  addQuery(setup)
  addImpact(setup)
  addExplain(setup)
  addSchema(setup)
  program.commandsGroup('Check')
  addCheck(setup)
  addBuild(setup)
  program.commandsGroup('Write')
  addInfer(setup)
  addNew(setup)
  addImport(setup)
  program.commandsGroup('Change')
  addSet(setup)
  addRename(setup)
  addRemove(setup)
  addMove(setup)
  addExtract(setup)
  addUndo(setup)
  program.commandsGroup('Serve')
  addInspect(setup)
  addLanguageServer(setup)
  return program
}

/** All commands on one screen, by what they are for. */
function describeCommands(program: Command): string {
  let group = ''
  const lines = program.commands.map((command) => {
    const isFirst = command.helpGroup() !== group
    group = command.helpGroup()
    return `${(isFirst ? group : '').padEnd(9)}${command.name().padEnd(17)}${command.description()}`
  })
  return `Usage: zinc-pantry <command>

${program.description()}

${lines.join('\n')}

"zinc-pantry help <command>" prints what one takes, --version the version.
Exit codes: 0 clean, 1 content problems, 2 wrong use, configuration or machine.
`
}

function addCheck({ program, surroundings, setCode }: Setup): void {
  program
    .command('check')
    .description('show every problem of the content')
    .option('--fix', 'mend what can be mended safely')
    .option('--dry-run', 'show what --fix would do, and change nothing')
    .option('--unused', 'list files that no entry uses and pages to which nothing leads')
    .option('--all', 'tell each problem, also where many are of one kind')
    .option('--summary', 'count problems by code, collection and field')
    .addOption(drafts())
    .addOption(formats('how problems are printed', ['text', 'json', 'sarif']))
    .addOption(root())
    .action(async (flags: CheckFlags) => {
      const { runCheck } = await import('./site-command.ts')
      setCode(await runCheck(flags, surroundings))
    })
}

function addInspect({ program, surroundings, setCode }: Setup): void {
  program
    .command('inspect')
    .description('open a page that shows the site and changes it')
    .option('--port <number>', 'the port of this machine (default: 4780, or the next that is free)', readCount)
    .option('--read-only', 'show only; nothing is written')
    .option('--no-open', 'print the address, and open no browser')
    .addOption(root())
    .action(async (flags: InspectFlags) => {
      const { runInspect } = await import('./inspect-command.ts')
      setCode(await runInspect(flags, surroundings))
    })
}

function addLanguageServer({ program, surroundings, setCode }: Setup): void {
  program
    .command('language-server')
    .description('answer an editor, by the Language Server Protocol')
    .option('--stdio', 'as most editors say it; there is no other way')
    .action(async () => {
      const { runLanguageServer } = await import('./language-server-command.ts')
      setCode(await runLanguageServer(surroundings))
    })
}

function addBuild({ program, surroundings, setCode }: Setup): void {
  program
    .command('build')
    .description('check, then write the generated folder')
    .option('--watch', 'build again whenever something changes, until it is ended')
    .option('--why <file>', 'say of a file whether it was done again, why, and what depends on it')
    .option('--all', 'tell each problem, also where many are of one kind')
    .addOption(drafts())
    .addOption(formats('how problems are printed', ['text', 'json', 'sarif']))
    .addOption(root())
    .action(async (flags: BuildFlags) => {
      if (flags.watch) {
        const { runWatch } = await import('./watch-command.ts')
        setCode(await runWatch(flags, surroundings))
        return
      }
      const { runBuild } = await import('./site-command.ts')
      setCode(await runBuild(flags, surroundings))
    })
}

function addQuery({ program, surroundings, setCode }: Setup): void {
  program
    .command('query')
    .argument('[collection]', 'the collection (default: list all)')
    .description('print the entries of a collection')
    .option('--where <condition>', 'keep what matches, such as "beds >= 20"')
    .option('--search <words>', 'keep what has these words, the nearest first')
    .option('--sort <fields>', 'order by these, "-" for the largest first: region,-beds')
    .option('--fields <fields>', 'print only these: name,region.name')
    .option('--limit <number>', 'print at most so many', readCount)
    .option('--offset <number>', 'leave out so many', readCount)
    .option('--facets <fields>', 'count the values of these: grade,region as region.name')
    .option('--groups <fields>', 'count entries by these together, in their place')
    .option('--each <number>', 'with --groups: print so many entries of each', readCount)
    .option('--statistics <fields>', 'sum, mean and bounds of these numbers instead')
    .option('--locale <language>', 'the language of the entries (default: the first)')
    .option('--tree', 'draw entries below those that they belong to')
    .option('--plan', 'say which indexes served the query, and what was read')
    .addOption(drafts())
    .addOption(formats('how entries are printed', ['table', 'json', 'csv']))
    .addOption(root())
    .addHelpText('after', QUERY_HELP)
    .action(async (collection: string | undefined, flags: QueryFlags) => {
      const { runQueryCommand } = await import('./query-command.ts')
      setCode(await runQueryCommand(collection, flags, surroundings))
    })
}

function addSchema({ program, surroundings, setCode }: Setup): void {
  program
    .command('schema')
    .argument('[collection]', 'the collection to describe')
    .description('print the JSON Schema of a collection')
    .option('--write <folder>', 'write those of all collections into a folder, for editors')
    .addOption(root())
    .action(async (collection: string | undefined, flags: CommonFlags & { readonly write?: string }) => {
      const { runSchema, runWriteSchemas } = await import('./schema-command.ts')
      const { write } = flags
      if ((write === undefined) === (collection === undefined))
        setCode(
          refuse(surroundings, 'Name a collection, or a folder with --write', 'Such as "zinc-pantry schema huts"'),
        )
      else if (write !== undefined) setCode(await runWriteSchemas(write, flags, surroundings))
      else setCode(await runSchema(collection ?? '', flags, surroundings))
    })
}

function addExplain({ program, surroundings, setCode }: Setup): void {
  program
    .command('explain')
    .argument('[code]', 'a code such as ref-dangling (default: list all)')
    .description('explain a problem and how to mend it')
    .action(async (code: string | undefined) => {
      const { runExplain } = await import('./explain-command.ts')
      setCode(runExplain(code, surroundings))
    })
}

function addImpact({ program, surroundings, setCode }: Setup): void {
  program
    .command('impact')
    .argument(
      '<target>',
      'huts (a collection), huts/gable (an entry), huts.beds (a field), trails.grade.hard (a choice), callout (a block), pictures/bell.png (a file)',
    )
    .description('list what a removal would break')
    .addOption(formats('how effects are printed', ['text', 'json']))
    .addOption(root())
    .action(async (target: string, flags: ImpactFlags) => {
      const { runImpact } = await import('./impact-command.ts')
      setCode(await runImpact(target, flags, surroundings))
    })
}

function addShow({ program, surroundings, setCode }: Setup): void {
  program
    .command('show')
    .argument(
      '[target]',
      'huts (a collection), huts/gable (an entry), huts.beds (a field), callout (a block), pictures/bell.png (a file) (default: the site)',
    )
    .description('show the site, a collection, an entry, a part')
    .addOption(formats('how it is printed', ['text', 'json']))
    .addOption(root())
    .action(async (target: string | undefined, flags: ShowFlags) => {
      const { runShow } = await import('./show-command.ts')
      setCode(await runShow(target, flags, surroundings))
    })
}

const QUERY_HELP = `
Conditions: = != < <= > >= in (a, b), between A and B, startsWith, includes,
hasWords, present, absent, and, or, not, ( ), some, every, none, @, "a name"`

function readCount(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new InvalidArgumentError('It must be a whole number from 0.')
  return Number(text)
}
