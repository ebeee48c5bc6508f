import type { CollectionModel } from '../schema/model.ts'
import { LEADING_NUMBER } from '../schema/slug.ts'

/** The name of an entry by the path of its file. */
export interface FileName {
  readonly id: string
  readonly locale: string | undefined
  /** Sorts as the numbers in front of its names say; undefined where the collection is not numbered. */
  readonly rank: string | undefined
  /** A language that the site does not have. */
  readonly unknownLocale?: string
}

/** How the paths of a collection are read. */
export interface Naming {
  /** The folder that ids are relative to, with a slash at its end; empty where there is none. */
  readonly base: string
  readonly collection: Pick<CollectionModel, 'locales' | 'numbered'>
  readonly locales: readonly string[]
}

const LANGUAGE = /^[a-z]{2,3}(?:-[A-Za-z]{2,4})?$/

/** Reads the id, the language and the place in the order from a path, relative to the content folder. */
export function nameFile(path: string, { base, collection, locales }: Naming): FileName {
  const relative = path.startsWith(base) ? path.slice(base.length) : path
  const named = relative.replace(/\.[^./]+$/, '')
  const { rest, locale, unknownLocale } = takeLocale(named, collection.locales, locales)
  const { id, rank } = collection.numbered ? takeNumbers(rest) : { id: rest, rank: undefined }
  return { id, rank, locale, ...(unknownLocale === undefined ? {} : { unknownLocale }) }
}

function takeLocale(
  name: string,
  by: CollectionModel['locales'],
  locales: readonly string[],
): { rest: string; locale: string | undefined; unknownLocale?: string } {
  if (by === undefined) return { rest: name, locale: undefined }
  const parts = by === 'suffix' ? /^(?<rest>.+)\.(?<tag>[^./]+)$/.exec(name) : /^(?<tag>[^/]+)\/(?<rest>.+)$/.exec(name)
  const { rest = name, tag } = parts?.groups ?? {}
  if (tag !== undefined && locales.includes(tag)) return { rest, locale: tag }
  const original = { rest: name, locale: locales[0] }
  return tag !== undefined && LANGUAGE.test(tag) ? { ...original, unknownLocale: tag } : original
}

/** Takes numbers off the front of every name in a path, and makes a text of them that sorts like them. */
function takeNumbers(name: string): { id: string; rank: string } {
  const steps = name.split('/').map((step) => {
    const [, number, rest = step] = LEADING_NUMBER.exec(step) ?? []
    // What has no number comes after what has one.
    return { rest, rank: `${number === undefined ? '~' : number.padStart(9, '0')} ${rest}` }
  })
  return { id: steps.map(({ rest }) => rest).join('/'), rank: steps.map(({ rank }) => rank).join('/') }
}
