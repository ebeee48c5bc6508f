import type { Command } from 'commander'
import type { ChangeFlags } from './change-command.ts'
import type { ExtractFlags, ImportFlags, MoveFlags, NewFlags, SetFlags } from './change-requests.ts'
import { formats, root, type Setup } from './command-options.ts'
import type { InferFlags } from './infer-command.ts'
import type { CommonFlags } from './site-command.ts'

const collect = (value: string, before: readonly string[] = []): string[] => [...before, value]

/** What can be renamed and removed. */
const WHAT =
  'huts (a collection), huts/gable (an entry), huts.beds (a field), trails.grade.hard (a choice), callout (a block), pictures/bell.png (a file or folder)'

/** Adds the options of every command that changes a site. */
const withChangeOptions = (command: Command): Command =>
  command
    .option('--dry-run', 'show the change as a diff, and write nothing')
    .option('--anyway', 'write it although it makes new problems')
    .addOption(formats('how the change is printed', ['text', 'json']))
    .addOption(root())

export function addRename({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('rename')
      .argument('<target>', WHAT)
      .argument('<name>', 'the name, id or path that it is to have, such as crag')
      .description('rename anything, wherever it is named')
      .option('--shared', 'also what shares its declaration, as a set of fields'),
  ).action(async (target: string, name: string, flags: ChangeFlags & { readonly shared?: boolean }) => {
    const { runChange } = await import('./change-command.ts')
    setCode(await runChange({ kind: 'rename', target, name, shared: flags.shared }, flags, surroundings))
  })
}

export function addSet({ program, surroundings, setCode }: Setup): void {
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
    const { runSet } = await import('./change-requests.ts')
    setCode(await runSet(collection, values, { flags, surroundings }))
  })
}

export function addRemove({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('remove')
      .argument('<target>', WHAT)
      .description('remove anything, or merge it into another')
      .option('--for <name>', 'the entry, value or file that stands for it from now on, such as crag'),
  ).action(async (target: string, flags: ChangeFlags & { readonly for?: string }) => {
    const { runChange } = await import('./change-command.ts')
    setCode(await runChange({ kind: 'remove', target, replacement: flags.for }, flags, surroundings))
  })
}

export function addExtract({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('extract')
      .argument('<field>', 'a field with labels, such as notices.tags')
      .description('make records of labels, and refer to them')
      .requiredOption('--to <collection>', 'the name of the collection that they become')
      .option('--same <label=label>', 'these two are one, by the name of the second; may be repeated', collect),
  ).action(async (target: string, flags: ExtractFlags) => {
    const { runExtract } = await import('./change-requests.ts')
    setCode(await runExtract(target, { flags, surroundings }))
  })
}

export function addMove({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('move')
      .argument('<target>', 'huts/gable (an entry), or huts (a collection)')
      .argument('[collection]', 'the collection that an entry comes into')
      .description('move entries into another collection, place or file')
      .option('--map <key=key>', 'what a key is called there, "key=" leaves it out; may be repeated', collect)
      .option('--before <entry>', 'in front of another entry in the order of the collection')
      .option('--after <entry>', 'behind another entry in the order of the collection')
      .option('--one-per-file', 'a file for each entry of the collection')
      .option('--into <file>', 'one file for all entries of the collection'),
  ).action(async (target: string, to: string | undefined, flags: MoveFlags) => {
    const { runMove } = await import('./change-requests.ts')
    setCode(await runMove(target, to, { flags, surroundings }))
  })
}

export function addInfer({ program, surroundings, setCode }: Setup): void {
  program
    .command('infer')
    .argument('[patterns...]', 'files, such as "docs/**/*.md" (default: all that no collection reads)')
    .description('write a configuration for content that has none')
    .option('--yes', 'write what #pantry needs into package.json and .gitignore too')
    .option('--dry-run', 'show it as a diff, and write nothing')
    .addOption(formats('how it is printed', ['text', 'json']))
    .addOption(root())
    .action(async (patterns: string[], flags: InferFlags) => {
      const { runInfer } = await import('./infer-command.ts')
      setCode(await runInfer(patterns, flags, surroundings))
    })
}

export function addImport({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('import')
      .argument('<file>', 'a table, JSON or YAML of somebody else')
      .argument('<collection>', 'the collection that its records come into')
      .description('make entries of a table or JSON of somebody else')
      .option('--map <heading=field>', 'what a heading stands for, "heading=" for nothing; may be repeated', collect)
      .option('--locale <language>', 'the language of the entries (default: the first)')
      .option('--into <file>', 'the file that new ones are to stand in (default: as others of the collection)'),
  ).action(async (file: string, collection: string, flags: ImportFlags) => {
    const { runImport } = await import('./change-requests.ts')
    setCode(await runImport(file, collection, { flags, surroundings }))
  })
}

export function addNew({ program, surroundings, setCode }: Setup): void {
  withChangeOptions(
    program
      .command('new')
      .argument('<collection>', 'the collection that it comes into')
      .argument('[name]', 'what people call it, or its id: "Crag Hut", north/crag')
      .description('write a new entry')
      .option('--set <field=value>', 'give a value; may be repeated', collect)
      .option('--like <entry>', 'with the values of another entry, such as huts/gable')
      .option('--locale <language>', 'the language of the entry (default: the first)')
      .option('--into <file>', 'the file that it is to stand in (default: as others of the collection)'),
  ).action(async (collection: string, name: string | undefined, flags: NewFlags) => {
    const { runNew } = await import('./change-requests.ts')
    setCode(await runNew(collection, name, { flags, surroundings }))
  })
}

export function addUndo({ program, surroundings, setCode }: Setup): void {
  program
    .command('undo')
    .description('take the last change back')
    .addOption(root())
    .action(async (flags: CommonFlags) => {
      const { runUndo } = await import('./undo-command.ts')
      setCode(await runUndo(flags, surroundings))
    })
}
