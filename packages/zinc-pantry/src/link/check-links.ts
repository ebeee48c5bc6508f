import type { BodyLink } from '../body/parsed-body.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { EntryBody } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entries.ts'
import type { LinkResolver, LinkTarget } from './link-resolver.ts'

/** Checks every link and image of every body. */
export const checkLinks = (collections: readonly LinkedCollection[], resolve: LinkResolver): Diagnostic[] =>
  collections.flatMap(({ entries }) =>
    entries.flatMap((entry) => {
      const isFine = (href: string): boolean => !/^(?:broken|no-)/.test(resolve(href, entry).kind)
      const { body } = entry
      const links = body?.parsed.links(isFine) ?? []
      return body ? links.flatMap((link) => describeLink(link, resolve(link.href, entry), body)) : []
    }),
  )

function describeLink({ href, span }: BodyLink, target: LinkTarget, body: EntryBody): Diagnostic[] {
  const { startOffset, file } = body
  const place = { file, span: [span[0] + startOffset, span[1] + startOffset] as const }
  if (target.kind === 'broken')
    return [createDiagnostic('link-broken', place, { href: readable(href), suggestion: target.suggest() })]
  if (target.kind !== 'no-heading') return []
  const { fragment } = target
  return [createDiagnostic('link-fragment', place, { href: readable(href), fragment, suggestion: target.suggest() })]
}

/** An address as a writer would write it. */
function readable(href: string): string {
  try {
    return decodeURI(href)
  } catch {
    return href
  }
}
