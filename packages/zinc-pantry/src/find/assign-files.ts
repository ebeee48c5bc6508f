import picomatch from 'picomatch'
import { addTo } from '../diagnostics/add-to.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'

/** A file of the content folder and the collection that reads it. */
export interface AssignedFile {
  /** Relative to the content folder, with forward slashes. */
  readonly path: string
  /** True where the collection names the file in full, not by a pattern. */
  readonly named: boolean
}

/** The files of one collection, in the order of their paths. */
export interface CollectionFiles {
  readonly collection: CollectionModel
  readonly files: readonly AssignedFile[]
  /** The folder that ids are relative to: the deepest one that all patterns share. */
  readonly base: string
}

/** A file that no collection reads, though one would with another ending of a known format. */
export interface NearMiss {
  readonly path: string
  readonly collection: string
  readonly globs: readonly string[]
}

/** Which collection reads which file. */
export interface Assignment {
  readonly assigned: CollectionFiles[]
  readonly problems: SettingProblem[]
  /** Files that no collection reads. */
  readonly unmatched: readonly string[]
  readonly nearMisses: readonly NearMiss[]
}

/**
 * Decides which collection reads which file. `paths` are sorted, relative to the content folder; `endings` are those of
 * known formats, with their dots.
 */
export function assignFiles(
  collections: readonly CollectionModel[],
  paths: readonly string[],
  endings: readonly string[],
): Assignment {
  const problems: SettingProblem[] = []
  const owners = new Map<string, CollectionModel[]>()
  const conflicts = new Set<string>()
  const assigned = collections.map((collection): CollectionFiles => {
    const takes = createMatcher(collection)
    const files: AssignedFile[] = []
    for (const path of paths) {
      const found = takes(path)
      if (!found) continue
      const owner = owners.get(path)?.find((other) => overlap(other, collection))
      if (owner) {
        reportShared(owner, collection, path)
        continue
      }
      addTo(owners, path, collection)
      files.push({ path, named: found.named })
    }
    // A collection of exactly one entry says so itself.
    if (files.length === 0 && !collection.single && !collection.source) reportEmpty(collection)
    return { collection, files, base: commonBase(collection.files) }
  })

  function reportShared(owner: CollectionModel, collection: CollectionModel, path: string): void {
    const pair = `${owner.name}\n${collection.name}`
    if (conflicts.has(pair)) return
    conflicts.add(pair)
    const setting = ['collections', collection.name, 'files']
    problems.push({
      code: 'config-file-shared',
      path: setting,
      parameters: { setting: collection.name, other: owner.name, path },
    })
  }

  function reportEmpty({ name, files }: CollectionModel): void {
    if ([...conflicts].some((pair) => pair.endsWith(`\n${name}`))) return
    const setting = ['collections', name, 'files']
    problems.push({ code: 'config-collection-empty', path: setting, parameters: { setting: name, globs: files } })
  }

  const unmatched = paths.filter((path) => !owners.has(path))
  return { assigned, problems, unmatched, nearMisses: findNearMisses(collections, unmatched, endings) }
}

/** True where two collections would read the same part of a file; each may have a part of its own. */
const overlap = (one: CollectionModel, other: CollectionModel): boolean => {
  const [a, b] = [one, other].map(({ records = '' }) => `${records}/`) as [string, string]
  return a.startsWith(b) || b.startsWith(a)
}

/** Finds files of known formats that only their ending keeps out of a collection. */
function findNearMisses(
  collections: readonly CollectionModel[],
  unmatched: readonly string[],
  endings: readonly string[],
): NearMiss[] {
  const matchers = collections.map((collection) => ({ collection, takes: createMatcher(collection) }))
  return unmatched.flatMap((path) => {
    const ending = endings.find((one) => path.toLowerCase().endsWith(one))
    if (ending === undefined) return []
    const stem = path.slice(0, path.length - ending.length)
    const others = endings.map((one) => stem + one)
    const found = matchers.find(
      ({ collection, takes }) => !isExcluded(collection, path) && others.some((other) => takes(other)),
    )
    return found ? [{ path, collection: found.collection.name, globs: found.collection.files }] : []
  })
}

const isExcluded = ({ exclude }: CollectionModel, path: string): boolean =>
  exclude.some((glob) => picomatch.isMatch(path, glob))

function createMatcher(collection: CollectionModel): (path: string) => { named: boolean } | undefined {
  const excluded = collection.exclude.map((glob) => picomatch(glob))
  const included = collection.files.map((glob) => ({ named: !picomatch.scan(glob).isGlob, matches: picomatch(glob) }))
  return (path) => {
    const found = included.find(({ matches }) => matches(path))
    return found && !excluded.some((matches) => matches(path)) ? found : undefined
  }
}

/** The folders that every pattern starts with, ended by a slash; empty when there are none. */
function commonBase(globs: readonly string[]): string {
  const folders = globs.map((glob) => {
    const { base, isGlob } = picomatch.scan(glob)
    const steps = base === '' ? [] : base.split('/')
    return isGlob ? steps : steps.slice(0, -1)
  })
  const [first = [], ...rest] = folders
  const shared = first.findIndex((step, at) => rest.some((steps) => steps[at] !== step))
  const steps = shared === -1 ? first : first.slice(0, shared)
  return steps.map((step) => `${step}/`).join('')
}
