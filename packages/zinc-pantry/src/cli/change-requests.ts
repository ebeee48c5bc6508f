import { relative, resolve, sep } from 'node:path'
import type { Assignment } from '../change/set-values.ts'
import { type ChangeFlags, runChange } from './change-command.ts'
import { refuse } from './refuse.ts'
import { findSite } from './site-command.ts'
import type { Surroundings } from './surroundings.ts'

/** Options of `set`. */
export interface SetFlags extends ChangeFlags {
  readonly where?: string
  readonly unset?: readonly string[]
  readonly absent?: boolean
  readonly locale?: string
}

/** Options of `new`. */
export interface NewFlags extends ChangeFlags {
  readonly set?: readonly string[]
  readonly like?: string
  readonly locale?: string
  readonly into?: string
}

/** Options of `import`. */
export interface ImportFlags extends ChangeFlags {
  readonly map?: readonly string[]
  readonly locale?: string
  readonly into?: string
}

/** Options of `extract`. */
export interface ExtractFlags extends ChangeFlags {
  readonly to: string
  readonly same?: readonly string[]
}

/** Options of `move`. */
export interface MoveFlags extends ChangeFlags {
  readonly map?: readonly string[]
  readonly before?: string
  readonly after?: string
  readonly onePerFile?: boolean
  readonly into?: string
}

const KINDS = { '=': 'set', '+=': 'add', '-=': 'remove' } as const

/** The command `set`: values in many entries. */
export async function runSet(
  collection: string,
  values: readonly string[],
  { flags, surroundings }: { readonly flags: SetFlags; readonly surroundings: Surroundings },
): Promise<number> {
  const assignments = [
    ...values.map(readAssignment),
    ...(flags.unset ?? []).map((path): Assignment => ({ path: path.split('.'), kind: 'unset' })),
  ]
  const wrong = values[assignments.indexOf(undefined)]
  if (wrong !== undefined || assignments.length === 0) {
    const words = wrong === undefined ? 'Nothing is to be set' : `"${wrong}" is not written as field=value`
    return refuse(surroundings, words, 'Write it as grade=hard, tags+=winter, tags-=winter, or --unset grade')
  }
  const { where, absent, locale } = flags
  const known = assignments.flatMap((one) => one ?? [])
  return runChange({ kind: 'set', collection, assignments: known, where, absent, locale }, flags, surroundings)
}

/** The command `new`: an entry that is not there yet. */
export async function runNew(
  collection: string,
  name: string | undefined,
  { flags, surroundings }: { readonly flags: NewFlags; readonly surroundings: Surroundings },
): Promise<number> {
  const assignments = (flags.set ?? []).map(readAssignment)
  const wrong = assignments.findIndex((one) => one?.kind !== 'set')
  if (wrong >= 0)
    return refuse(surroundings, `"${flags.set?.[wrong]}" is not written as field=value`, 'Write it as --set grade=hard')
  const values = assignments.flatMap((one) => (one ? [{ path: one.path, text: one.text ?? '' }] : []))
  const { like, locale, into } = flags
  return runChange({ kind: 'new', collection, name, values, like, locale, into }, flags, surroundings)
}

/** The command `move`: entries stand elsewhere. */
export async function runMove(
  target: string,
  to: string | undefined,
  { flags, surroundings }: { readonly flags: MoveFlags; readonly surroundings: Surroundings },
): Promise<number> {
  const { map = [], onePerFile, into, before, after } = flags
  const wrong = map.find((one) => !one.includes('='))
  if (wrong !== undefined)
    return refuse(surroundings, `"${wrong}" is not written as key=key`, 'Write it as --map "title=name"')
  const request = { kind: 'move', target, to, keys: readPairs(map), onePerFile, into, before, after } as const
  return runChange(request, flags, surroundings)
}

/** Pairs that are written as "one=other". */
const readPairs = (pairs: readonly string[]): ReadonlyMap<string, string> =>
  new Map(pairs.map((one) => [one.slice(0, one.lastIndexOf('=')), one.slice(one.lastIndexOf('=') + 1)]))

/** The command `import`: entries from a file of somebody else. */
export async function runImport(
  file: string,
  collection: string,
  { flags, surroundings }: { readonly flags: ImportFlags; readonly surroundings: Surroundings },
): Promise<number> {
  const { map = [], locale, into } = flags
  const wrong = map.find((one) => !one.includes('='))
  if (wrong !== undefined)
    return refuse(surroundings, `"${wrong}" is not written as heading=field`, 'Write it as --map "Beds (all)=beds"')
  const headings = readPairs(map)
  const { root } = findSite(flags, surroundings).site
  const path = relative(root, resolve(surroundings.folder, file)).split(sep).join('/')
  return runChange({ kind: 'import', file: path, collection, headings, locale, into }, flags, surroundings)
}

/** The command `extract`: labels become records. */
export async function runExtract(
  target: string,
  { flags, surroundings }: { readonly flags: ExtractFlags; readonly surroundings: Surroundings },
): Promise<number> {
  const { to, same = [] } = flags
  const wrong = same.find((one) => !one.includes('='))
  if (wrong !== undefined)
    return refuse(surroundings, `"${wrong}" is not written as label=label`, 'Write it as --same "wet=Wet"')
  const pairs = same.map((one) => [one.slice(0, one.indexOf('=')), one.slice(one.indexOf('=') + 1)] as const)
  return runChange({ kind: 'extract', target, to, same: pairs }, flags, surroundings)
}

/** Reads what is to become of a field: `grade=hard`, `tags+=winter`. */
function readAssignment(written: string): Assignment | undefined {
  const [, path = '', sign = '', text = ''] = /^([^=+]*?)([+-]?=)(.*)$/s.exec(written) ?? []
  return path === '' ? undefined : { path: path.split('.'), kind: KINDS[sign as keyof typeof KINDS], text }
}
