import { type Diagnostic, messageOf } from '../../diagnostics/diagnostic.ts'
import { type LocatedLinks, placeLinks } from '../../link/check-links.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { type EntryName, isSameEntry, qualifiedId } from '../../link/pages.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import type { Without } from '../without.ts'
import { asDefinitions, type Effect, type Removal, type Subject } from './effects.ts'
import { functionsWithText } from './functions.ts'

type Target = Without['isEntry']

/** The removal of an entry: the problems that a check finds in the content without it. */
export async function removeEntry(subject: Subject, collection: string, id: string): Promise<Removal> {
  const isEntry: Target = (other) => other.collection === collection && other.id === id
  const { problems } = await takeOut(subject, isEntry)
  const said = describeUses(subject, isEntry, () => 'it')
  return {
    target: 'entry',
    words: `One entry, ${id} of ${collection}. The collection and its definition stay`,
    effects: [
      ...(await asDefinitions(subject, functionsWithText(subject.model, id, collection))),
      ...problems.map((problem) => asEffect(problem, said)),
    ],
  }
}

/** The removal of files that are no entries; the path is that of one, or of their folder. */
export async function removeFiles(subject: Subject, path: string, files: readonly string[]): Promise<Removal> {
  const isEntry: Target = () => false
  const problems = await subject.problemsWithout({ files, isEntry })
  return {
    target: 'file',
    words: `The ${files.length === 1 ? 'file' : 'folder'} ${path} of the content folder`,
    effects: problems.map((problem) => asEffect(problem, new Map())),
  }
}

/** The effects of the removal of all entries of a collection on the others. */
export async function usesOfCollection(subject: Subject, collection: string): Promise<Effect[]> {
  const isEntry: Target = (other) => other.collection === collection
  const { own, problems } = await takeOut(subject, isEntry)
  const said = describeUses(subject, isEntry, ({ id }) => id)
  const ownFiles = new Set(own.map((entry) => entry.locate([]).file))
  const lost = own.map(
    (entry): Effect => ({ kind: 'use', words: `${collection}/${entry.id} is lost`, place: entry.locate([]) }),
  )
  return [...lost, ...problems.filter(({ file }) => !ownFiles.has(file)).map((problem) => asEffect(problem, said))]
}

/** Some entries, and the problems that a check finds without them and their files. */
async function takeOut(
  subject: Subject,
  isEntry: Target,
): Promise<{ readonly own: readonly LinkedEntry[]; readonly problems: readonly Diagnostic[] }> {
  const own = entriesOf(subject).filter(isEntry)
  const files = own.flatMap(({ source }) => (source.pointer === '' ? [source.file] : []))
  return { own, problems: await subject.problemsWithout({ files, isEntry }) }
}

const NO_LINKS: LocatedLinks = { body: [], texts: [] }

const keyOf = (file: string, span: readonly number[]): string => `${file} ${span[0]}`

/** Words for the places at which entries refer or link to others. */
function describeUses(
  subject: Subject,
  isEntry: Target,
  nameOf: (entry: { readonly id: string }) => string,
): ReadonlyMap<string, string> {
  const { checked } = subject
  const words = new Map<string, string>()
  for (const entry of entriesOf(subject)) {
    if (isEntry(entry)) continue
    const from = qualifiedId(entry)
    for (const link of entry.links.filter(isEntry)) {
      const { file, span } = entry.locate(link.path)
      words.set(keyOf(file, span), `${from} refers to ${nameOf(link)} in ${link.path.join('.')}`)
    }
    const targetOf = (href: string): EntryName | undefined => {
      const target = checked.resolveLink(href, entry)
      return target.kind === 'entry' || target.kind === 'no-page' ? target.page : undefined
    }
    const passOver = (href: string): boolean => {
      const target = targetOf(href)
      return !target || isSameEntry(target, entry) || !isEntry(target)
    }
    const links = checked.bodies?.locateLinks(entry, passOver) ?? NO_LINKS
    for (const { href, place } of placeLinks(entry, links, checked.textOf))
      words.set(keyOf(place.file, place.span), `${from} links to ${nameOf(targetOf(href) ?? entry)}`)
  }
  return words
}

const asEffect = (problem: Diagnostic, said: ReadonlyMap<string, string>): Effect => {
  const { code, file, span } = problem
  const words = /^(?:ref|link)-/.test(code) ? said.get(keyOf(file, span)) : undefined
  return {
    kind: code.startsWith('config-') || code.startsWith('single-') ? 'definition' : 'use',
    words: words ?? messageOf(problem),
    place: { file, span },
  }
}
