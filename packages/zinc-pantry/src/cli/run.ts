import { Command, CommanderError, InvalidArgumentError, Option } from 'commander'
import type { ChangeFlags, SetFlags } from './change-command.ts'
import type { ImpactFlags } from './impact-command.ts'
import type { QueryFlags } from './query-command.ts'
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
    .commandsGroup('Look:')
    .helpCommand('help [command]', 'print help, also of one command')
    .exitOverride()
    .configureOutput({ writeOut: (text) => stdout.write(text), writeErr: (text) => stderr.write(text) })
    // That there is help is said above.
    .configureHelp({ visibleCommands: ({ commands }) => [...commands] })
    .showSuggestionAfterError()
    .addHelpText('after', '\nExit codes: 0 clean, 1 content problems, 2 wrong use, configuration or machine.')
  const setup = { program, surroundings, setCode }
  addShow(setup)
  addQuery(setup)
  addImpact(setup)
  addExplain(setup)
  addSchema(setup)
  program.commandsGroup('Check:')
  addCheck(setup)
  addBuild(setup)
  program.commandsGroup('Change:')
  addSet(setup)
  addRename(setup)
  addRemove(setup)
  addUndo(setup)
  return program
}

/** The program that commands are added to, and what they work with. */
interface Setup {
  readonly program: Command
  readonly surroundings: Surroundings
  setCode(code: number): void
}

const root = () => new Option('--root <dir>', 'folder of the configuration (default: found upward)')
const drafts = () => new Option('--drafts', 'with drafts, and what is not yet or no longer to be seen')
const formats = (help: string, choices: string[]) =>
  new Option('--format <format>', help).choices(choices).default(choices[0])

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
    .option('--facets <fields>', 'count the values of these: grade,region.name')
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
    .argument('<collection>', 'the collection to describe')
    .description('print the JSON Schema of a collection')
    .addOption(root())
    .action(async (collection: string, flags: CommonFlags) => {
      const { runSchema } = await import('./schema-command.ts')
      setCode(await runSchema(collection, flags, surroundings))
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

/** Adds the options of every command that changes a site. */
const withChangeOptions = (command: Command): Command =>
  command
    .option('--dry-run', 'show the change as a diff, and write nothing')
    .option('--anyway', 'write it although it makes new problems')
    .addOption(formats('how the change is printed', ['text', 'json']))
    .addOption(root())

function addRename({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('rename')
      .argument(
        '<target>',
        'huts (a collection), huts/gable (an entry), huts.beds (a field), trails.grade.hard (a choice), callout (a block), pictures/bell.png (a file or folder)',
      )
      .argument('<name>', 'the name, id or path that it is to have, such as crag')
      .description('rename anything, wherever it is named')
      .option('--shared', 'also what shares its declaration, as a set of fields'),
  ).action(async (target: string, name: string, flags: ChangeFlags & { readonly shared?: boolean }) => {
    const { runChange } = await import('./change-command.ts')
    setCode(await runChange({ kind: 'rename', target, name, shared: flags.shared }, flags, surroundings))
  })
}

function addSet({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('set')
      .argument('<collection>', 'the collection of the entries')
      .argument('[values...]', 'grade=hard, tags+=winter, tags-=winter, summary={excerpt}')
      .description('set values in many entries')
      .option('--where <condition>', 'in the entries that match, such as "beds >= 20"')
      .option('--unset <field>', 'take a value away; may be repeated', collect)
      .option('--absent', 'only where there is no value')
      .option('--locale <language>', 'the language of the entries (default: the first)'),
  ).action(async (collection: string, values: string[], flags: SetFlags) => {
    const { runSet } = await import('./change-command.ts')
    setCode(await runSet(collection, values, { flags, surroundings }))
  })
}

function addRemove({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('remove')
      .argument('<target>', 'an entry, such as huts/gable')
      .description('remove an entry, or merge it')
      .option('--for <id>', 'the entry that stands for it from now on, such as crag'),
  ).action(async (target: string, flags: ChangeFlags & { readonly for?: string }) => {
    const { runChange } = await import('./change-command.ts')
    setCode(await runChange({ kind: 'remove', target, replacement: flags.for }, flags, surroundings))
  })
}

function addShow({ program, surroundings, setCode }: Setup): void {
  program
    .command('show')
    .argument('[target]', 'huts (a collection), huts/gable (an entry) (default: the site)')
    .description('show the site, a collection, an entry')
    .addOption(formats('how it is printed', ['text', 'json']))
    .addOption(root())
    .action(async (target: string | undefined, flags: ShowFlags) => {
      const { runShow } = await import('./show-command.ts')
      setCode(await runShow(target, flags, surroundings))
    })
}

const collect = (value: string, before: readonly string[] = []): string[] => [...before, value]

function addUndo({ program, surroundings, setCode }: Setup): void {
  program
    .command('undo')
    .description('take the last change back')
    .addOption(root())
    .action(async (flags: CommonFlags) => {
      const { runUndo } = await import('./undo-command.ts')
      setCode(await runUndo(flags, surroundings))
    })
}

const QUERY_HELP = `
Conditions: = != < <= > >= in (a, b), between A and B, startsWith, includes,
hasWords, present, absent, and, or, not, ( ), some, every, none, @, "a name"`

function readCount(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new InvalidArgumentError('It must be a whole number from 0.')
  return Number(text)
}
