import { listNames, quote, quoteId } from '../words.ts'
import { didYouMean, error, fault, warning } from './entry.ts'

export interface Collected {
  collection: string
}

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
    ({ id, collection }) => `Id ${quoteId(id)} is already taken in ${collection}`,
    () => 'Ids are unique in a collection: change one of the two',
  ),
  'slug-duplicate': error<{ slug: string; id: string; otherId: string }>(
    ({ slug, id, otherId }) => `Slug ${quoteId(slug)} of ${quoteId(id)} is already that of ${quoteId(otherId)}`,
    () =>
      'Rename one, or set "slug": to a key or a function that gives it, or to false where the entries have no pages',
  ),
  'former-address-invalid': error<{ address: string }>(
    ({ address }) => `${quote(address)} is no address from the root of the site`,
    () => 'Write it as the path of a page was: /huts/gable/',
  ),
  'former-address-taken': error<{ address: string; other: string }>(
    ({ address, other }) => `Former address ${quote(address)} is that of ${quoteId(other)}`,
    () => 'An address leads to one page: leave it out at one of them',
  ),
  'label-near': warning<{ labels: readonly { readonly text: string; readonly count: number }[] }>(
    ({ labels }) => {
      const isCounted = labels.some(({ count }) => count > 1)
      const shown = labels.slice(0, 3).map(({ text, count }) => `${quote(text, 20)}${isCounted ? ` (${count})` : ''}`)
      const more = labels.length - shown.length
      return `One label written ${labels.length} ways: ${shown.join(', ')}${more > 0 ? ` and ${more} more` : ''}`
    },
    () => 'Write it one way; where these are different things, set "label-near" to off',
  ),
  'slug-invalid': error<{ slug: string; reason: string }>(
    ({ slug, reason }) => `${quoteId(slug)} is no slug: ${reason}`,
    () => 'A slug is the end of an address: names, with "/" between them',
  ),
  'body-dropped': warning<{ collection: string; files: number }>(
    ({ collection, files }) =>
      files === 1
        ? `Text below the front matter is dropped: ${collection} has no body`
        : `Text below the front matter is dropped in ${files} files: ${collection} has no body`,
    ({ collection }) => `Set collections.${collection}.body to true`,
  ),
  'output-unwritable': fault(
    error<{ reason: string }>(
      ({ reason }) => `Output cannot be written: ${reason}`,
      () => 'The last good output is unchanged',
    ),
  ),
  'output-foreign': fault(
    error<{ file: string }>(
      ({ file }) => `No build wrote ${quote(file)}, so that it is not replaced`,
      () => 'Name another folder in the setting "output", or move the file',
    ),
  ),
  'ref-dangling': error<{
    id: string
    collection: string
    suggestion?: string | undefined
    known?: readonly string[] | undefined
  }>(
    ({ id, collection }) => `No entry ${quoteId(id)} in ${collection}`,
    ({ suggestion, known, collection }) => {
      const others =
        known?.length === 0 ? `The collection ${collection} has no entries` : known && `Expected ${listNames(known)}`
      return didYouMean(suggestion, others)
    },
  ),
  'ref-implicit-near': warning<{ id: string; collection: string; suggestion: string }>(
    ({ id, collection }) => `Reference makes ${quoteId(id)} in ${collection}, which is nearly another entry`,
    ({ suggestion }) => `Did you mean ${quote(suggestion)}? If not, write a file for it`,
  ),
  'ref-target-failed': warning<{ id: string; collection: string }>(
    ({ id, collection }) => `Entry ${quoteId(id)} of ${collection} is in a file that could not be read`,
    () => 'Mend that file first',
  ),
  'ref-ambiguous': error<{ id: string; collections: readonly string[] }>(
    ({ id, collections }) => `${quoteId(id)} is an entry of ${listNames(collections, 'and')}`,
    ({ id, collections }) => `Say which: ${quoteId(`${collections[0]}/${id}`)}`,
  ),
  'ref-unpublished': error<{ id: string; collection: string; reason: string }>(
    ({ id, collection, reason }) => `Entry ${quoteId(id)} of ${collection} is not published: ${reason}`,
    () => 'Publish it, or take the reference out',
  ),
  'value-duplicate': error<{ fields: readonly string[]; value: string; collection: string }>(
    ({ fields, value, collection }) => `${value} is already the ${fields.join(' and ')} of an entry of ${collection}`,
    ({ fields }) => `No two entries have the same ${fields.join(' and ')}: change one`,
  ),
  'tree-cycle': error<{ ids: readonly string[] }>(
    ({ ids }) => `Circle of parents: ${ids.map((id) => quoteId(id)).join(' → ')}`,
    () => 'Take one of the parents out',
  ),
  'single-missing': error<Collected>(
    ({ collection }) => `Collection ${collection} has exactly one entry, but there is none`,
    () => 'Write the file that its patterns name',
  ),
  'single-several': error<Collected>(
    ({ collection }) => `Collection ${collection} has exactly one entry; this is another`,
    () => 'Delete it, or narrow the patterns',
  ),
  'derive-failed': error<{ field: string; reason: string }>(
    ({ field, reason }) => `Derived field ${quote(field)} could not be computed: ${reason}`,
    () => 'Mend its function in the configuration, or the values that it reads',
  ),
  'derive-invalid': error<{ field: string; problem: string }>(
    ({ field }) => `Derived field ${quote(field)} got a value that breaks its own rules`,
    ({ problem }) => problem,
  ),
  'derive-cycle': error<{ fields: readonly string[] }>(
    ({ fields }) => `Derived fields need each other: ${fields.join(' → ')}`,
    () => 'Compute one of them from written fields only',
  ),
  'derive-private': error<{ field: string; shown: string }>(
    ({ field, shown }) => `Derived field ${quote(field)} shows the value of the private field ${quote(shown)}`,
    ({ field }) => `Make ${quote(field)} private too, or leave that value out of it`,
  ),
  'rule-failed': error<{ reason: string; collection: string }>(
    ({ reason }) => `A rule threw an error: ${reason}`,
    ({ collection }) => `Mend it in collections.${collection}.rules`,
  ),
  'site-rule': error<{ message: string; help?: string | undefined }>(
    ({ message }) => message,
    ({ help }) => help,
  ),
  'locale-missing': warning<{ id: string; collection: string; locale: string }>(
    ({ id, collection, locale }) => `Entry ${quoteId(id)} of ${collection} is not there in ${quote(locale)}`,
    () => 'Translate it; until then the first language stands in',
  ),
  'locale-stale': warning<{ id: string; locale: string; field: string; revised: string }>(
    ({ id, locale, field, revised }) =>
      `${quoteId(id)} in ${quote(locale)} is older than the original: ${field} ${revised}`,
    ({ field }) => `Bring it up to date, and ${quote(field)} with it`,
  ),
  'locale-unknown': error<{ locale: string; locales: readonly string[] }>(
    ({ locale }) => `${quote(locale)} is no language of this site`,
    ({ locales }) => `Languages are ${listNames(locales, 'and')}; add it to locales, or rename the file`,
  ),
  'field-computed': error<{ key: string }>(
    ({ key }) => `Field ${quote(key)} is computed and cannot be written`,
    () => 'Delete it',
  ),
  'field-deprecated': warning<{ field: string }>(({ field }) => `Field ${quote(field)} is deprecated`),
  'block-unnamed': error<{ key: string; blocks: readonly string[] }>(
    ({ key, blocks }) => `Block has no ${quote(key)}, expected ${listNames(blocks)}`,
    ({ key, blocks }) => `Add "${key}: ${blocks[0]}"`,
  ),
  'block-unknown': error<{ name: string; blocks: readonly string[]; suggestion?: string | undefined }>(
    ({ name }) => `There is no block ${quote(name)} here`,
    ({ suggestion, blocks }) => didYouMean(suggestion, `Blocks here are ${listNames(blocks, 'and')}`),
  ),
  'validator-issue': error<{ message: string }>(({ message }) => message),
  'validator-failed': error<{ reason: string }>(({ reason }) => `Validator of this field failed: ${reason}`),
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
