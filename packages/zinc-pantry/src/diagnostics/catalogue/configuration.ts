import { listNames, quote, quoteId } from '../words.ts'
import { didYouMean, error, warning } from './entry.ts'

export interface Setting {
  /** Where in the configuration, such as `collections.trails.fields.region`. */
  setting: string
}

/** Problems of the configuration itself. */
export const configurationCodes = {
  'config-not-found': error<{ looked: string; upward: boolean; isFile?: boolean | undefined }>(
    ({ looked, upward, isFile }) =>
      isFile
        ? `${quoteId(looked)} is no folder`
        : `No pantry.config file in ${quoteId(looked)}${upward ? ' or any folder above' : ''}`,
    ({ upward, isFile }) =>
      isFile
        ? '--root names the folder of the configuration'
        : `Create pantry.config.ts there${upward ? ', or name the folder with --root DIR' : ''}`,
  ),
  'config-default-dangling': error<
    Setting & { id: string; collection: string; suggestion?: string | undefined; known?: readonly string[] | undefined }
  >(
    ({ id, collection }) => `No entry ${quoteId(id)} in ${collection}, which is the default here`,
    ({ suggestion, known }) => didYouMean(suggestion, known && `Expected ${listNames(known)}`),
  ),
  'config-package-missing': error<Setting & { name: string }>(
    ({ setting, name }) => `${setting} needs the package ${name}, which is not installed`,
    ({ name }) => `Install it: npm install ${name}`,
  ),
  'config-import-missing': error<{ specifier: string; isFile: boolean }>(
    ({ specifier, isFile }) => `There is no ${isFile ? 'file' : 'module'} ${quote(specifier)} to import`,
    ({ specifier, isFile }) => {
      const name = /^(?:@[^/]+\/)?[^/]+/.exec(specifier)?.[0] ?? specifier
      if (isFile) return 'Paths are relative to this file'
      return name === specifier
        ? `Install it: npm install ${name}`
        : `Install it with npm install ${name}, or see the documentation of ${name} for the entries that it has`
    },
  ),
  'config-export-unknown': error<{ name: string; from: string; suggestion?: string | undefined }>(
    ({ name, from }) => `${quote(from)} has no export ${quote(name)}`,
    ({ from, suggestion }) =>
      didYouMean(
        suggestion,
        from.startsWith('.') ? 'Export it there, or correct its name' : 'See its documentation for what it exports',
      ),
  ),
  'config-syntax': error<{ reason: string }>(({ reason }) => `Configuration does not parse: ${reason}`),
  'config-failed': error<{ reason: string }>(({ reason }) => `Configuration could not be loaded: ${reason}`),
  'config-plugin-failed': error<Setting & { plugin: string; reason: string }>(
    ({ plugin, reason }) => `Plugin ${quote(plugin)} could not be added: ${reason.split('\n', 1)[0]}`,
    () => 'See what the plugin wants for options, or leave it out',
  ),
  'config-not-pantry': error<Record<never, never>>(
    () => 'Default export is not the result of pantry({ ... })',
    () => 'End the file with: export default pantry({ collections: { ... } })',
  ),
  'config-setting-unknown': error<Setting & { suggestion?: string | undefined; known: readonly string[] }>(
    ({ setting }) => `Unknown setting ${setting}`,
    ({ suggestion, known }) => didYouMean(suggestion, `Settings here are ${listNames(known, 'and')}`),
  ),
  'config-setting-invalid': error<Setting & { seen: string; expected: string }>(
    ({ setting, seen, expected }) => `Setting ${setting} is ${seen}, expected ${expected}`,
  ),
  'config-name-invalid': error<Setting & { name: string; suggestion: string }>(
    ({ name }) => `${quote(name)} cannot be used as a name in code`,
    ({ suggestion }) => `Names become exports and types: call it ${quote(suggestion)}`,
  ),
  'config-name-taken': error<Setting & { name: string; other: string }>(
    ({ name, other }) => `Type name ${quote(name)} is already used by ${other}`,
    ({ setting }) => `Give ${setting} a name of its own`,
  ),
  'config-field-reserved': error<Setting & { name: string; suggestion: string; why: string }>(
    ({ setting, why }) => `Field name ${setting} is reserved: ${why}`,
    ({ name, suggestion }) =>
      `Call the field ${quote(suggestion)}; with writtenAs: ${quote(name)} it is still read from that key`,
  ),
  'config-key-twice': error<Setting & { key: string | undefined; other: string }>(
    ({ setting, key, other }) =>
      key === undefined
        ? `Field ${setting} takes all other keys, as ${quote(other)} does`
        : `Field ${setting} is read from the key ${quote(key)}, as ${quote(other)} is`,
    ({ key }) => (key === undefined ? 'Leave one of the two out' : 'Give one of them another key with "writtenAs"'),
  ),
  'config-hints-invalid': error<Setting & { problem: string }>(
    ({ setting, problem }) => `Setting ${setting} does not fit the site's hints: ${problem}`,
    () => 'The setting "hints" at the top declares which hints fields may have',
  ),
  'history-missing': warning<Setting>(
    ({ setting }) => `Field ${setting} asks version control for changes, and there is none here`,
    () => "With from: 'either' or 'files' the times of the files themselves are taken",
  ),
  'history-shallow': warning<Setting>(
    ({ setting }) => `Field ${setting} asks for changes, of which this clone has the last ones only`,
    () => 'Clone with the whole history, as by a fetch depth of 0: the first changes are later than they were',
  ),
  'config-pattern-invalid': error<Setting & { pattern: string; reason: string }>(
    ({ setting, reason }) => `Setting ${setting} is not a regular expression: ${reason}`,
    () => 'Patterns are ECMAScript regular expressions with the u flag, as in JSON Schema',
  ),
  'config-range-empty': error<Setting & { low: string; lowValue: string; highValue: string }>(
    ({ setting, low, lowValue, highValue }) =>
      `Setting ${setting} is ${highValue}, below ${low} ${lowValue}: no value fits`,
  ),
  'config-ref-unknown': error<Setting & { target: string; suggestion?: string | undefined; known: readonly string[] }>(
    ({ setting, target }) => `Setting ${setting} refers to ${quote(target)}, which is no collection`,
    ({ suggestion, known }) => didYouMean(suggestion, `Collections are ${listNames(known, 'and')}`),
  ),
  'config-default-invalid': error<Setting & { problem: string }>(
    ({ setting }) => `Setting ${setting} breaks the rules of its own field`,
    ({ problem }) => problem,
  ),
  'config-block-unknown': error<Setting & { name: string; suggestion?: string | undefined; known: readonly string[] }>(
    ({ setting, name }) => `Setting ${setting} uses ${quote(name)}, which is no block`,
    ({ suggestion, known }) =>
      didYouMean(suggestion, known.length ? `Blocks are ${listNames(known, 'and')}` : 'Declare it under blocks'),
  ),
  'config-field-twice': error<Setting & { name: string }>(
    ({ setting, name }) => `Derived field ${setting} has the name of a written field, ${quote(name)}`,
    () => 'Rename one of them',
  ),
  'config-field-unfit': error<
    Setting & { name: string; expected: string; suggestion?: string | undefined; known: readonly string[] }
  >(
    ({ setting, name, expected }) => `Setting ${setting} is ${quote(name)}, expected the name of ${expected}`,
    ({ suggestion, known }) =>
      didYouMean(suggestion, known.length ? `Such fields are ${listNames(known, 'and')}` : undefined),
  ),
  'config-field-loosened': warning<Setting & { name: string; now: string; before: string }>(
    ({ setting, now, before }) => `Setting ${setting} is ${now}, where the shared field says ${before}`,
    () => 'What reads the shared field counts on its promise; loosen it there, or make a field of its own',
  ),
  'config-create-incomplete': error<Setting & { name: string }>(
    ({ setting, name }) => `Setting ${setting} makes entries, but field ${quote(name)} would have no value`,
    ({ name }) => `Make ${quote(name)} optional, or give it a default`,
  ),
  'config-variant-twice': error<Setting & { first: string }>(
    ({ setting, first }) => `Setting ${setting} is a second variant field beside ${quote(first)}`,
    () => 'A set of fields has one; put the other into a group',
  ),
  'config-reverse-unknown': error<
    Setting & { through: string; target: string; owner: string; suggestion?: string | undefined }
  >(
    ({ setting, through, target, owner }) =>
      `Setting ${setting}: ${quote(through)} of ${target} is no reference to ${owner || 'a collection'}`,
    ({ suggestion }) => didYouMean(suggestion),
  ),
  'config-code-unknown': error<Setting & { code: string; suggestion?: string | undefined }>(
    ({ code }) => `There is no diagnostic ${quote(code)}`,
    ({ suggestion }) => didYouMean(suggestion),
  ),
  'config-severity-fixed': error<Setting & { code: string }>(
    ({ code }) => `${quote(code)} stays an error: an entry with it cannot be compiled`,
  ),
  'config-glob-invalid': error<Setting & { glob: string; reason: string }>(
    ({ setting, glob, reason }) => `Setting ${setting}: pattern ${quote(glob)} ${reason}`,
    () => 'Patterns are relative to the content folder, such as "trails/**/*.md"',
  ),
  'config-file-shared': error<Setting & { other: string; path: string }>(
    ({ setting, other, path }) => `Collections ${other} and ${setting} both read ${quote(path)}`,
    () => 'A file belongs to one collection: narrow a pattern, or use exclude',
  ),
  'config-folder-missing': error<Setting & { folder: string; isFile?: boolean | undefined }>(
    ({ folder, isFile }) => `Content folder ${quote(folder)} ${isFile ? 'is a file' : 'does not exist'}`,
    ({ setting }) => `Create it, or set ${setting} to the folder that holds the content`,
  ),
  'config-collection-empty': warning<Setting & { globs: readonly string[] }>(
    ({ setting, globs }) => `Collection ${setting} reads no file: nothing matches ${listNames(globs)}`,
    () => 'Patterns are relative to the content folder; check their spelling',
  ),
}
