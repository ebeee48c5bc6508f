import { type FSWatcher, watch } from 'node:fs'
import { dirname, join, relative, sep } from 'node:path'
import type { Changes, Watched, Watcher } from './host.ts'
import { realPath, stampOf, statOf, type TreeVisitor, visitTree } from './node-listing.ts'

/** Events that come together are told together. */
const TOGETHER_MS = 2
/** After so long without an event everything is looked at. */
const QUIET_MS = 150
/** How long events may come one after the other before everything is looked at. */
const LONGEST_BURST_MS = 1_000
/** Without any event everything is looked at so often, or as often as takes a fortieth of the time. */
const IDLE_MS = 3_000
const IDLE_RATIO = 40
/** The same where folders cannot be watched: a system has only so many watches. */
const POLLING_MS = 500

/** The state of all that is watched. */
interface Snapshot {
  /** Stamps of files by absolute path; undefined for one that was changed a moment ago. */
  readonly files: ReadonlyMap<string, string | undefined>
  readonly folders: ReadonlySet<string>
  /** Links that are followed, with their targets. */
  readonly links: readonly (readonly [link: string, target: string])[]
}

/**
 * Watches folders, each by itself: of the ways that were measured the only one that lost no event of new folders. Events
 * are hints all the same, told at once. The truth is the folder, which is looked at after each burst, and now and then.
 */
export async function watchNode(
  root: string,
  watched: Watched,
  onChange: (changes: Changes) => void,
): Promise<Watcher> {
  const base = realPath(root) ?? root
  const watchers = new Map<string, FSWatcher>()
  const hints = new Set<string>()
  let isClosed = false
  let isPolling = false
  let snapshot: Snapshot = { files: new Map(), folders: new Set(), links: [] }
  let hintTimer: NodeJS.Timeout | undefined
  let lookTimer: NodeJS.Timeout | undefined
  let burstStart = 0

  const tell = (paths: Iterable<string>): void => {
    const all = [...new Set(paths)].map((path) => relative(base, path).split(sep).join('/'))
    if (all.length > 0 && !isClosed) onChange(all)
  }
  const note = (folder: string, name: string | null): void => {
    hints.add(name === null ? folder : join(folder, name))
    hintTimer ??= setTimeout(tellHints, TOGETHER_MS)
  }
  const tellHints = (): void => {
    hintTimer = undefined
    const paths = [...hints]
    hints.clear()
    const isFolder = (path: string): boolean =>
      snapshot.folders.has(path) || watchers.has(path) || statOf(path)?.isDirectory() === true
    if (paths.some(isFolder)) look()
    tell(paths.flatMap((path) => [...waysTo(path, snapshot)]))
    const now = Date.now()
    if (burstStart === 0) burstStart = now
    lookIn(now - burstStart > LONGEST_BURST_MS ? 0 : QUIET_MS)
  }
  const lookIn = (milliseconds: number): void => {
    clearTimeout(lookTimer)
    if (!isClosed) lookTimer = setTimeout(look, milliseconds)
  }
  const watchFolder = (folder: string): void => {
    try {
      const watcher = watch(folder, (_event, name) => note(folder, name))
      watcher.on('error', () => unwatch(folder))
      watchers.set(folder, watcher)
    } catch {
      // The folder is gone again, or there are no watches left.
      isPolling ||= statOf(folder) !== undefined
    }
  }
  const unwatch = (folder: string): void => {
    watchers.get(folder)?.close()
    watchers.delete(folder)
  }
  /** Takes a snapshot, each folder being watched before it is read. */
  const observe = (): Snapshot => {
    for (;;) {
      const taken = takeSnapshot(base, watched)
      for (const folder of watchers.keys()) if (!taken.folders.has(folder)) unwatch(folder)
      const fresh = [...taken.folders].filter((folder) => !watchers.has(folder))
      for (const folder of fresh) watchFolder(folder)
      if (!fresh.some((folder) => watchers.has(folder))) return taken
    }
  }
  const look = (): void => {
    if (isClosed) return
    burstStart = 0
    const started = performance.now()
    const last = snapshot
    snapshot = observe()
    tell(differences(last, snapshot))
    const taken = performance.now() - started
    const isUnsettled = [...snapshot.files.values()].includes(undefined)
    lookIn(isUnsettled ? QUIET_MS : Math.max(isPolling ? POLLING_MS : IDLE_MS, taken * IDLE_RATIO))
  }

  snapshot = observe()
  lookIn(QUIET_MS)
  return {
    async close() {
      isClosed = true
      clearTimeout(hintTimer)
      clearTimeout(lookTimer)
      for (const folder of [...watchers.keys()]) unwatch(folder)
    },
  }
}

function takeSnapshot(base: string, { trees, folders, dotNames }: Watched): Snapshot {
  const found = new Set<string>()
  const files = new Map<string, string | undefined>()
  const links: (readonly [string, string])[] = []
  for (const tree of trees) {
    const path = join(base, tree)
    const real = realPath(path)
    if (real !== undefined && real !== path) links.push([path, real])
    const visitor: TreeVisitor = {
      file: (own) => files.set(own, stampOf(statOf(own))),
      folder: (own) => found.add(own),
      link: (link, target) => links.push([link, target]),
    }
    const isThere = visitTree(path, visitor, dotNames)
    // That it comes is seen from above.
    found.add(isThere ? dirname(path) : nearestFolder(path))
  }
  for (const folder of folders) found.add(nearestFolder(join(base, folder)))
  return { files, folders: found, links }
}

/** A folder, or the nearest above that is there. */
function nearestFolder(path: string): string {
  let at = path
  while (!statOf(at)?.isDirectory() && dirname(at) !== at) at = dirname(at)
  return at
}

/** Paths that came, went or changed, in all the ways that lead to them. */
function* differences(last: Snapshot, next: Snapshot): Generator<string> {
  for (const [path, stamp] of next.files)
    if (stamp === undefined || last.files.get(path) !== stamp) yield* waysTo(path, next)
  for (const path of last.files.keys()) if (!next.files.has(path)) yield* waysTo(path, last)
  const before = new Map(last.links)
  const after = new Map(next.links)
  for (const link of new Set([...before.keys(), ...after.keys()])) if (before.get(link) !== after.get(link)) yield link
}

function* waysTo(path: string, { links }: Snapshot): Generator<string> {
  yield path
  yield* aliasesOf(path, links)
}

/** Other paths of a file, through links that lead to it or to a folder above it; one link may lead to another. */
function aliasesOf(path: string, links: Snapshot['links']): readonly string[] {
  const found = new Set<string>()
  const add = (one: string): void => {
    for (const [link, target] of links) {
      const alias = one === target ? link : one.startsWith(target + sep) ? link + one.slice(target.length) : undefined
      // In pairs of links each path would have more and more others.
      if (alias === undefined || alias === path || found.has(alias) || found.size >= MOST_ALIASES) continue
      found.add(alias)
      add(alias)
    }
  }
  if (links.length > 0) add(path)
  return [...found]
}

const MOST_ALIASES = 64
