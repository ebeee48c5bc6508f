import type { OpenCollection } from '../query/open-collection.ts'
import { openSite, type Site, type StoredCollection } from '../query/open-site.ts'

/** The part of `import.meta.hot` that is needed. */
interface Hot {
  readonly data: Record<string, unknown>
}

/** The parts of a collection that a page has used. */
interface Use {
  readonly rows: Map<number, unknown>
  readonly bodies: Map<number, unknown>
  readonly indexes: Set<string>
  isCounted: boolean
  isSearched: boolean
  readonly locales: Set<string>
}

/** The detail of the event that tells that something changed which a page has used. */
export interface ContentChange {
  readonly collections: readonly string[]
}

/** The name of the event of the window; unless its default is prevented the page loads anew. */
export const CHANGE_EVENT = 'zinc-pantry:change'

/**
 * Opens a site that stays the same while its content is replaced. Where a page has used what changed, the event
 * `zinc-pantry:change` comes; where it has not, nothing happens to it.
 */
export function openHotSite(
  hot: Hot | undefined,
  collections: readonly StoredCollection[],
  locales: readonly string[] = [],
): Site {
  if (!hot) return openSite(collections, locales)
  const kept = hot.data.site as HotSite | undefined
  if (!kept) {
    const made = createHotSite(openSite(collections, locales))
    hot.data.site = made
    return made.site
  }
  void kept.replace(openSite(collections, locales)).then((changed) => {
    if (changed.length === 0 || typeof window === 'undefined') return
    const detail: ContentChange = { collections: changed }
    if (window.dispatchEvent(new CustomEvent(CHANGE_EVENT, { detail, cancelable: true }))) window.location.reload()
  })
  return kept.site
}

interface HotSite {
  readonly site: Site
  /** Puts other content in the place of the present one. Gives the collections of which something used changed. */
  replace(next: Site): Promise<string[]>
}

function createHotSite(first: Site): HotSite {
  let current = first
  let uses = new Map<string, Use>()
  let watched = new WeakMap<OpenCollection, OpenCollection>()
  const watch = (name: string, open: OpenCollection): OpenCollection => {
    const known = watched.get(open) ?? watchCollection(open, useOf(name))
    watched.set(open, known)
    return known
  }
  const useOf = (name: string): Use => {
    const use = uses.get(name) ?? createUse()
    uses.set(name, use)
    return use
  }
  const site: Site = {
    get shapes() {
      return current.shapes
    },
    get locales() {
      return current.locales
    },
    internals: first.internals,
    stored: (name) => current.stored(name),
    opened(name) {
      const open = current.opened(name)
      return open && watch(name, open)
    },
    open: async (name, read) => watch(name, await current.open(name, read)),
  }
  return {
    site,
    async replace(next) {
      const before = { site: current, uses }
      current = next
      uses = new Map()
      watched = new WeakMap()
      const changed: string[] = []
      for (const [name, use] of before.uses) {
        if (await isUnchanged(use, { name, before: before.site, next })) uses.set(name, use)
        else changed.push(name)
      }
      return changed
    },
  }
}

const createUse = (): Use => ({
  rows: new Map(),
  bodies: new Map(),
  indexes: new Set(),
  locales: new Set(),
  isCounted: false,
  isSearched: false,
})

/** Notes what is asked of a collection. */
function watchCollection(open: OpenCollection, use: Use): OpenCollection {
  const note = (rows: ArrayLike<number>, entries: readonly unknown[]): void => {
    for (const [at, entry] of entries.entries()) use.rows.set(rows[at] as number, entry)
  }
  return {
    ...open,
    get count() {
      use.isCounted = true
      return open.count
    },
    get search() {
      use.isSearched = true
      return open.search
    },
    index(path) {
      use.indexes.add(path.join('.'))
      return open.index(path)
    },
    singleIndex(path) {
      use.indexes.add(path.join('.'))
      return open.singleIndex(path)
    },
    rowsNow(rows, isKept) {
      const found = open.rowsNow(rows, isKept)
      if (found) note(rows, found)
      return found
    },
    async loadRows(rows, read) {
      const found = await open.loadRows(rows, read)
      note(rows, found)
      return found
    },
    async loadBody(row) {
      const body = await open.loadBody(row)
      use.bodies.set(row, body)
      return body
    },
    view(locale) {
      if (locale !== undefined) use.locales.add(locale)
      return open.view(locale)
    },
  }
}

/** True where all that was used is as it was. */
async function isUnchanged(
  use: Use,
  { name, before, next }: { readonly name: string; readonly before: Site; readonly next: Site },
): Promise<boolean> {
  try {
    const [old, now] = await Promise.all(
      [before, next].map(async (site) => (await site.stored(name).catalogue()).default),
    )
    if (!old || !now) return false
    if (use.isCounted && old.count !== now.count) return false
    if (use.isSearched && old.search !== now.search) return false
    const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other)
    if (![...use.indexes].every((path) => isSame(old.indexes[path], now.indexes[path]))) return false
    if (![...use.locales].every((locale) => isSame(old.locales?.[locale], now.locales?.[locale]))) return false
    const open = await next.open(name)
    const rows = [...use.rows.keys()]
    if (rows.some((row) => row >= open.count)) return false
    const entries = await open.loadRows(rows)
    if (!rows.every((row, at) => isSame(use.rows.get(row), entries[at]))) return false
    // A body is a module named by its content, so that the same one is the same object.
    const bodies = await Promise.all(Array.from(use.bodies, async ([row, body]) => (await open.loadBody(row)) === body))
    return bodies.every(Boolean)
  } catch {
    // A collection that is no longer there.
    return false
  }
}
