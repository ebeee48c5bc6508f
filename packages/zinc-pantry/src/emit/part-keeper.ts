import { NAME_LENGTH } from '../query/catalogue.ts'

/** The kinds of parts, which are the folders of the output. */
export type PartKind = 'catalogues' | 'rows' | 'indexes' | 'notes' | 'bodies'

/** Hands on the texts of parts, and remembers their paths. */
export interface PartKeeper {
  /** Gives the name of a part: a digest of its text. */
  keep(kind: PartKind, collection: string, text: string): string
  /** Gives the name that parts share, a digest of all; their number in the list follows it. */
  keepAll(kind: PartKind, collection: string, texts: readonly string[]): string
  /** The paths of the parts of a collection, in the order in which they came. */
  pathsOf(collection: string): readonly string[]
}

/** The path of a part below the generated folder. */
export const pathOfPart = (kind: PartKind, collection: string, name: string): string =>
  `${kind}/${collection}-${name}.js`

/** Makes a keeper. Parts are written as they come, so that they need not all fit into memory. */
export function createPartKeeper(
  digest: (text: string) => string,
  write: (path: string, text: string) => void,
): PartKeeper {
  const paths = new Map<string, Set<string>>()
  const put = (path: string, collection: string, text: string): void => {
    const own = paths.get(collection) ?? new Set()
    paths.set(collection, own)
    if (!own.has(path)) write(path, text)
    own.add(path)
  }
  return {
    keep(kind, collection, text) {
      const name = digest(text).slice(0, NAME_LENGTH)
      put(pathOfPart(kind, collection, name), collection, text)
      return name
    },
    keepAll(kind, collection, texts) {
      const name = digest(texts.join('')).slice(0, NAME_LENGTH)
      for (const [number, text] of texts.entries())
        put(pathOfPart(kind, collection, `${name}-${number}`), collection, text)
      return name
    },
    pathsOf: (collection) => [...(paths.get(collection) ?? [])],
  }
}
