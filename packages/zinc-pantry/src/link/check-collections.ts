import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entry.ts'

/** Checks what a collection promises as a whole: exactly one entry, a tree without circles, all languages. */
export function checkCollections(collections: readonly LinkedCollection[], locales: readonly string[]): Diagnostic[] {
  return collections.flatMap((one) => [...checkSingle(one), ...checkTree(one), ...checkLocales(one, locales)])
}

function checkSingle({ collection, entries }: LinkedCollection): Diagnostic[] {
  if (!collection.single) return []
  const [first, ...others] = [...new Map(entries.map((entry) => [entry.id, entry])).values()]
  const parameters = { collection: collection.name }
  return others.map((entry) =>
    createDiagnostic('single-several', entry.locate([]), parameters, {
      related: first ? [{ ...first.locate([]), note: 'first-used' }] : [],
    }),
  )
}

/** Reports every circle of parents once, at the entry with the least id. */
function checkTree({ collection, entries }: LinkedCollection): Diagnostic[] {
  const { parent, name } = collection
  if (parent === undefined) return []
  const byId = new Map(entries.map((entry) => [entry.id, entry]))
  const parentOf = ({ links }: LinkedEntry): string | undefined =>
    links.find(({ path, collection: target }) => path.length === 1 && path[0] === parent && target === name)?.id
  const seen = new Set<string>()
  return entries.flatMap((entry) => {
    const way: string[] = []
    let at: LinkedEntry | undefined = entry
    while (at && !seen.has(at.id)) {
      seen.add(at.id)
      way.push(at.id)
      const above = parentOf(at)
      at = above === undefined ? undefined : byId.get(above)
    }
    const start = at ? way.indexOf(at.id) : -1
    if (start === -1) return []
    const circle = way.slice(start)
    const least = circle.toSorted()[0] ?? ''
    const turned = [...circle.slice(circle.indexOf(least)), ...circle.slice(0, circle.indexOf(least)), least]
    const place = (byId.get(least) as LinkedEntry).locate([parent])
    return [createDiagnostic('tree-cycle', place, { ids: turned })]
  })
}

function checkLocales({ collection, entries }: LinkedCollection, locales: readonly string[]): Diagnostic[] {
  const { locales: by, revised, name } = collection
  if (by === undefined) return []
  const [original] = locales
  const byId = new Map<string, Map<string, LinkedEntry>>()
  for (const entry of entries) {
    const versions = byId.get(entry.id) ?? new Map<string, LinkedEntry>()
    versions.set(entry.locale ?? '', entry)
    byId.set(entry.id, versions)
  }
  return [...byId].flatMap(([id, versions]) => {
    const first = versions.values().next().value as LinkedEntry
    const missing = locales
      .filter((locale) => !versions.has(locale))
      .map((locale) => createDiagnostic('locale-missing', first.locate([]), { id, collection: name, locale }))
    return [...missing, ...staleVersions({ id, versions, original: versions.get(original ?? ''), revised })]
  })
}

interface Versions {
  readonly id: string
  readonly versions: ReadonlyMap<string, LinkedEntry>
  readonly original: LinkedEntry | undefined
  readonly revised: string | undefined
}

function staleVersions({ id, versions, original, revised }: Versions): Diagnostic[] {
  const latest = revised === undefined ? undefined : original?.data?.[revised]
  if (revised === undefined || typeof latest !== 'string') return []
  return [...versions].flatMap(([locale, entry]) => {
    const own = entry.data?.[revised]
    if (entry === original || typeof own !== 'string' || own >= latest) return []
    return [createDiagnostic('locale-stale', entry.locate([revised]), { id, locale, field: revised, revised: latest })]
  })
}
