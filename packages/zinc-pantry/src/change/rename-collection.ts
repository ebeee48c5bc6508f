import { entriesOf } from '../link/linked-entries.ts'
import { qualifiedId } from '../link/pages.ts'
import type { Attention, ChangeStep } from './change.ts'
import { createLinkWriter } from './create-link-writer.ts'
import { findReferences, prefixOf } from './find-references.ts'
import { rewriteLinks } from './rewrite-links.ts'
import type { ChangeSubject } from './subject.ts'
import { writeReference } from './write-reference.ts'

/** A collection is named in front of ids, where a reference or a link may lead to several. */
export function renameCollectionInContent(
  subject: ChangeSubject,
  { collection, name }: { readonly collection: string; readonly name: string },
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const { content } = subject.model
  for (const entry of entriesOf(subject)) {
    const from = qualifiedId(entry)
    for (const placed of findReferences(entry, (link) => link.collection === collection)) {
      const { reference, place } = placed
      const prefix = prefixOf(reference, collection)
      if (prefix === '') continue
      const text = `${name}/${reference.text.slice(prefix.length)}`
      const written = place.file.startsWith(`${content}/`)
        ? writeReference(subject, entry, { ...placed, text })
        : undefined
      if (written === undefined)
        attention.push({ place, words: `${from} has to refer to ${text}, to be written by hand` })
      else steps.push({ kind: 'edit', ...place, text: written, reason: `${from} refers to ${text}` })
    }
    const write = createLinkWriter(subject, entry, {
      fileAfter: (file) => file,
      nameAfter: (page) => qualifiedId(page.collection === collection ? { ...page, collection: name } : page),
      addressAfter: () => undefined,
    })
    for (const { place, text } of rewriteLinks(subject, entry, write))
      steps.push({ kind: 'edit', ...place, text, reason: `${from} links to ${text}` })
  }
  return { steps, attention }
}
