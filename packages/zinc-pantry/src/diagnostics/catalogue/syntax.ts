import { listNames, plural, quote } from '../words.ts'
import { error, fault, warning } from './entry.ts'

/** Problems of a file's text, before any schema is asked. */
export const syntaxCodes = {
  'file-unreadable': fault(error<{ reason: string }>(({ reason }) => `Cannot be read: ${reason}`)),
  'file-too-large': error<{ megabytes: number; limit: number }>(
    ({ megabytes, limit }) => `File has ${megabytes} MB, more than the ${limit} MB that are read`,
    () => 'Split it, or move it out of the content folder',
  ),
  'file-link-stray': warning<Record<never, never>>(
    () => 'Symbolic link is not followed: it leads out of the content folder or in a circle',
    () => 'Put the file itself into the content folder',
  ),
  'file-name-unportable': warning<{ name: string; reason: string }>(
    ({ name, reason }) => `Name ${quote(name)} does not work on every system: ${reason}`,
    () => 'Rename the file',
  ),
  'file-format-unknown': error<{ extension: string }>(
    ({ extension }) => `No reader for files that end in ${quote(extension)}`,
    () => 'Entries are .md, .mdx, .yaml, .yml, .json, .jsonc, .jsonl, .toml or .csv; leave others out with exclude',
  ),
  'file-unmatched': warning<{ collection: string; globs: readonly string[] }>(
    ({ collection, globs }) =>
      `No collection reads this file; ${collection} reads ${globs.map((glob) => quote(glob)).join(', ')}`,
    ({ collection }) => `Widen collections.${collection}.files, give the file another ending, or exclude it`,
  ),
  'text-encoding': error<{ encoding: string }>(
    ({ encoding }) => `Text is not UTF-8: ${encoding}`,
    () => 'Save the file as UTF-8',
  ),
  'source-unreachable': fault(
    error<{ source: string; reason: string; kept: boolean }>(
      ({ source, reason, kept }) =>
        `Source ${quote(source)} gave no answer: ${reason}${kept ? '; the kept one is used' : ''}`,
      ({ kept }) => (kept ? undefined : 'There is no kept answer; try again when the source answers'),
    ),
  ),
  'source-status': fault(
    error<{ source: string; status: number; kept: boolean }>(
      ({ source, status, kept }) =>
        `Source ${quote(source)} answered ${status}${kept ? '; the kept answer is used' : ''}`,
      ({ status }) => (status === 401 || status === 403 ? 'Check the headers and their variables' : undefined),
    ),
  ),
  'source-unexpected': fault(
    error<{ pointer: string; seen: string; expected: string }>(
      ({ pointer, seen, expected }) => `Answer has ${seen} at ${quote(pointer)}, expected ${expected}`,
    ),
  ),
  'source-variable': fault(
    error<{ name: string; header: string }>(
      ({ name, header }) => `Variable ${name} of the environment is not set; the header ${header} needs it`,
    ),
  ),
  'source-header': fault(
    error<{ header: string }>(
      ({ header }) => `Header ${header} has a line break or another character that no header may have`,
      () => 'Look at the variables of the environment in it',
    ),
  ),
  'source-failed': fault(error<{ reason: string }>(({ reason }) => `Source function failed: ${reason}`)),
  'front-matter-unclosed': error<{ sign: string; nearly?: string | undefined }>(
    ({ sign, nearly }) =>
      nearly === undefined
        ? `Front matter is opened by ${sign} but never closed`
        : `Front matter is not closed by ${quote(nearly)}: ${sign} must stand alone in its line`,
    ({ sign, nearly }) =>
      nearly === undefined ? `Add a line with only ${sign} after the last field` : `Make it a line with only ${sign}`,
  ),
  'front-matter-missing': error<{ fields: readonly string[] }>(
    ({ fields }) => `This file has no front matter, which must give ${listNames(fields, 'and')}`,
    ({ fields }) => `Start it with the lines ---, ${fields.map((field) => `${field}: …`).join(', ')}, ---`,
  ),
  'front-matter-misplaced': error<Record<never, never>>(
    () => 'Front matter is read only from the first line of a file',
    () => 'Delete the lines above ---',
  ),
  'yaml-tab': error<Record<never, never>>(
    () => 'Tab used for indentation; YAML allows only spaces',
    () => 'Replace the tab with spaces',
  ),
  'yaml-colon': error<{ text: string }>(
    ({ text }) => `Text with ": " in it must be quoted: ${quote(text)}`,
    ({ text }) => `Write it as '${text.replaceAll("'", "''")}'`,
  ),
  'yaml-duplicate-key': error<{ key: string }>(
    ({ key }) => `Key ${quote(key)} stands twice in one mapping`,
    () => 'Delete or rename one of them',
  ),
  'yaml-too-large': error<{ limit: number }>(
    ({ limit }) => `Aliases expand this file to more than ${plural(limit, 'value')}`,
    () => 'Write the repeated parts out, or use fewer aliases',
  ),
  'yaml-too-deep': error<{ limit: number }>(({ limit }) => `Nested more than ${limit} levels deep`),
  'yaml-tag': error<{ tag: string; text: string }>(
    ({ tag, text }) => `${quote(text)} does not fit its tag ${tag}`,
    () => 'Delete the tag, or mend the value',
  ),
  'yaml-tag-unknown': warning<{ tag: string }>(
    ({ tag }) => `Tag ${tag} is not in YAML's core schema; its value is read without it`,
    () => 'Delete the tag, or put it and the value into quotes',
  ),
  'yaml-syntax': error<{ reason: string; corrected?: string | undefined }>(
    ({ reason }) => `YAML: ${reason}`,
    ({ corrected }) => corrected && `Write it as ${corrected}`,
  ),
  'toml-syntax': error<{ reason: string }>(({ reason }) => `TOML: ${reason}`),
  'toml-duplicate-key': error<{ key: string }>(
    ({ key }) => `Key ${quote(key)} stands twice in one table`,
    () => 'Delete or rename one of them',
  ),
  'toml-too-deep': error<{ limit: number }>(({ limit }) => `Nested more than ${limit} levels deep`),
  'csv-quote': error<{ quote: string }>(
    () => 'Quoted cell is never closed',
    ({ quote: sign }) => `Close it with ${sign}; inside of a cell ${sign} is written twice`,
  ),
  'csv-heading-empty': error<{ column: number }>(
    ({ column }) => `Column ${column} has no name`,
    () => 'Name it in the first line, or delete it',
  ),
  'csv-heading-deep': error<{ limit: number }>(({ limit }) => `Heading leads more than ${limit} groups deep`),
  'csv-heading-twice': error<{ name: string }>(
    ({ name }) => `Column ${quote(name)} stands twice`,
    () => 'Delete or rename one of them',
  ),
  'csv-row-long': error<{ cells: number; columns: number }>(
    ({ cells, columns }) => `Row has ${plural(cells, 'cell')}, but there are ${plural(columns, 'column')}`,
    () => 'Quote a cell that has the delimiter in it',
  ),
  'json-trailing-comma': error<Record<never, never>>(
    () => 'JSON has no comma before a closing bracket',
    () => 'Delete the comma',
  ),
  'json-comment': error<Record<never, never>>(
    () => 'JSON has no comments',
    () => 'Delete the comment',
  ),
  'json-duplicate-key': warning<{ key: string }>(
    ({ key }) => `Key ${quote(key)} stands twice in one object; the last one counts`,
    () => 'Delete or rename one of them',
  ),
  'json-too-deep': error<{ limit: number }>(({ limit }) => `Nested more than ${limit} levels deep`),
  'json-syntax': error<{ reason: string }>(({ reason }) => `JSON: ${reason}`),
}
