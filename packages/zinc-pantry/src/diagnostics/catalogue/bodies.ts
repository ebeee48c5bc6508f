import { listNames, quote, quoteId } from '../words.ts'
import { didYouMean, error, warning } from './entry.ts'

/** Problems of bodies: their text, their code, their links. */
export const bodyCodes = {
  'block-unclosed': error<{ name: string }>(
    ({ name }) => `Block ${quote(name)} is not closed`,
    () => 'Close it with a line of as many colons as it was opened with',
  ),
  'html-untrusted': error<{ html: string }>(
    ({ html }) => `Raw HTML is not allowed here: ${quote(html)}`,
    () => 'Write it in Markdown; whoever may write HTML writes in a collection that is trusted',
  ),
  'plugin-failed': error<{ plugin: string; reason: string }>(
    ({ plugin, reason }) => `Plugin ${quote(plugin)} failed here: ${reason.split('\n', 1)[0]}`,
    () => 'Mend the plugin, or leave it out of the collection',
  ),
  'code-language-unknown': warning<{ language: string; suggestion?: string | undefined }>(
    ({ language }) => `No colours are known for code in ${quote(language)}`,
    ({ suggestion }) => didYouMean(suggestion, 'Name another language, or list it in highlight.plain'),
  ),
  'link-broken': error<{ href: string; suggestion?: string | undefined }>(
    ({ href }) => `Link leads nowhere: ${quoteId(href)}`,
    ({ suggestion }) =>
      didYouMean(suggestion, 'Links lead to a file, to an entry as "collection/id", or to the address of a page'),
  ),
  'link-fragment': error<{ href: string; fragment: string; suggestion?: string | undefined }>(
    ({ fragment }) => `There is no heading ${quote(`#${fragment}`)} where this link leads`,
    ({ suggestion }) => didYouMean(suggestion && `#${suggestion}`),
  ),
  'link-without-page': warning<{ href: string; collection: string; id: string }>(
    ({ collection, id }) => `Link leads to ${collection}/${id}, which has no page`,
    ({ collection }) => `Give the collection ${collection} an address, or link to another page`,
  ),
  'address-duplicate': error<{ address: string; other: string }>(
    ({ address, other }) => `Address ${quote(address)} is that of ${other} too`,
    () => 'Make the address of something that differs, such as the slug and the language',
  ),
  'link-unpublished': error<{ href: string; collection: string; id: string; reason: string }>(
    ({ collection, id, reason }) => `Link leads to ${collection}/${id}, which is not published: ${reason}`,
    () => 'Publish it, or take the link out',
  ),
  'link-source': error<{ href: string; collection: string }>(
    ({ href, collection }) =>
      `Link leads to ${quote(href)}, content of ${collection}, which has private or unpublished parts`,
    () => 'Link to a page, or to a copy without those parts',
  ),
  'asset-unused': warning<Record<never, never>>(
    () => 'No entry uses this file',
    () => 'Remove it, or link to it',
  ),
  'page-unlinked': warning<{ page: string }>(
    ({ page }) => `Nothing links or refers to ${page}`,
    () => 'Link to it from where readers would look for it',
  ),
  'mdx-syntax': error<{ reason: string; comment?: string | undefined }>(
    ({ reason, comment }) =>
      comment === undefined ? `MDX cannot be read: ${reason}` : 'MDX cannot be read: it has no comments of HTML',
    ({ comment }) =>
      comment === undefined
        ? 'In MDX, "{" and "<" begin code; write "\\{" and "&lt;" for the characters themselves'
        : `Write it as {/*${comment}*/}`,
  ),
  'mdx-untrusted': error<Record<never, never>>(
    () => 'MDX is not allowed here, since it can run code',
    () => 'Rename the file to .md, or move it to a collection that is trusted',
  ),
  'import-missing': error<{ specifier: string; isFile: boolean; suggestion?: string | undefined }>(
    ({ specifier, isFile }) => `${isFile ? 'There is no file' : 'There is no package'} ${quote(specifier)} to import`,
    ({ specifier, isFile, suggestion }) =>
      didYouMean(
        suggestion,
        isFile
          ? 'Paths are relative to this file'
          : `Install it: npm install ${/^(?:@[^/]+\/)?[^/]+/.exec(specifier)?.[0]}`,
      ),
  ),
  'component-unknown': error<{ name: string; suggestion?: string | undefined; known: readonly string[] }>(
    ({ name }) => `There is no component <${name}>`,
    ({ suggestion, known }) =>
      didYouMean(
        suggestion && `<${suggestion}>`,
        `Import it, or declare a block; there are ${known.length === 0 ? 'none' : listNames(known, 'and')}`,
      ),
  ),
}
