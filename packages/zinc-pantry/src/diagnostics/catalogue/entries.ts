import { listNames, quote } from '../words.ts'
import { didYouMean, error, warning } from './entry.ts'

/** Problems of a whole entry, and of references between entries. */
export const entryCodes = {
  'entry-not-group': error<{ seen: string }>(
    ({ seen }) => `An entry is a group of keys, found ${seen}`,
    () => 'Write each field as "name: value"',
  ),
  'entry-list-unexpected': error<{ collection: string }>(
    ({ collection }) => `A list of entries, but ${collection} has one entry a file`,
    ({ collection }) => `Set collections.${collection}.perFile to 'many', or write one entry`,
  ),
  'entry-list-expected': error<{ seen: string; collection: string }>(
    ({ seen, collection }) => `Entries of ${collection} are a list or a map of keys, found ${seen}`,
  ),
  'entry-records-missing': error<{ pointer: string }>(
    ({ pointer }) => `Nothing at ${quote(pointer)} in this file`,
    () => 'The setting "records" is a JSON Pointer to the list or map of entries',
  ),
  'entry-id-missing': error<{ key: string }>(
    ({ key }) => `Entry has no ${quote(key)}, which gives its id`,
    ({ key }) => `Add "${key}" to this entry`,
  ),
  'entry-id-invalid': error<{ seen: string }>(
    ({ seen }) => `An id is text with something in it, found ${seen}`,
    () => 'Quote it if it is a number',
  ),
  'id-duplicate': error<{ id: string; collection: string }>(
    ({ id, collection }) => `Id ${quote(id)} is already taken in ${collection}`,
    () => 'Ids are unique in a collection: change one of the two',
  ),
  'slug-duplicate': error<{ slug: string; id: string; otherId: string }>(
    ({ slug, id, otherId }) => `Slug ${quote(slug)} of ${quote(id)} is already that of ${quote(otherId)}`,
    () => 'Rename one, or let a key give the slug with the setting "slug"',
  ),
  'body-dropped': warning<{ collection: string; files: number }>(
    ({ collection, files }) =>
      files === 1
        ? `Text below the front matter is dropped: ${collection} has no body`
        : `Text below the front matter is dropped in ${files} files: ${collection} has no body`,
    ({ collection }) => `Set collections.${collection}.body to true`,
  ),
  'output-unwritable': error<{ reason: string }>(
    ({ reason }) => `Output cannot be written: ${reason}`,
    () => 'The last good output is unchanged',
  ),
  'ref-dangling': error<{
    id: string
    collection: string
    suggestion?: string | undefined
    known?: readonly string[] | undefined
  }>(
    ({ id, collection }) => `No entry ${quote(id)} in ${collection}`,
    ({ suggestion, known, collection }) => {
      const others =
        known?.length === 0 ? `The collection ${collection} has no entries` : known && `Expected ${listNames(known)}`
      return didYouMean(suggestion, others)
    },
  ),
  'ref-target-failed': warning<{ id: string; collection: string }>(
    ({ id, collection }) => `Entry ${quote(id)} of ${collection} is in a file that could not be read`,
    () => 'Mend that file first',
  ),
  'field-unknown': error<{ key: string; suggestion?: string | undefined; known: readonly string[] }>(
    ({ key }) => `Unknown field ${quote(key)}`,
    ({ suggestion, known }) =>
      didYouMean(suggestion, known.length ? `Fields here are ${listNames(known, 'and')}` : undefined),
  ),
  'field-missing': error<{ field: string; expected: string }>(
    ({ field, expected }) => `Field ${quote(field)} is missing, expected ${expected}`,
  ),
  'field-empty': error<{ field: string; expected: string }>(
    ({ field, expected }) => `Field ${quote(field)} is empty, expected ${expected}`,
  ),
}
