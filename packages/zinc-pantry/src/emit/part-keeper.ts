import { NAME_LENGTH } from '../query/catalogue.ts'

/** The kinds of parts, which are the folders of the output. */
export type PartKind = 'catalogues' | 'rows' | 'indexes' | 'notes' | 'bodies'

/** Hands on the texts of parts, and remembers their paths. */
export interface PartKeeper {
  /** Gives the name of a part: a digest of its text. */
  keep(kind: PartKind, collection: string, text: string): string
  /** Gives the name that parts share, a digest of all; their number in the list follows it. */
  keepAll(kind: PartKind, collection: string, texts: readonly string[]): string
  /** Makes something with its parts, or takes it and them from the last time, where nothing in it changed. */
  unit<Made>(collection: string, name: string, { isSame, make }: { isSame: boolean; make(): Made }): Made
  /** The paths of the parts of a collection, in the order in which they came. */
  pathsOf(collection: string): readonly string[]
}

/** Where parts go. */
export interface PartWriter {
  /** Writes a part, and gives its size in bytes. */
  write(path: string, text: string): number
  /** Keeps a part that was written before. */
  keep(path: string, sizeBytes: number): void
}

/** What was made with which parts, of earlier builds of the same process. */
export type UnitMemory = Map<string, { readonly made: unknown; readonly parts: readonly KeptPart[] }>

interface KeptPart {
  readonly path: string
  readonly sizeBytes: number
}

/** The path of a part below the generated folder. */
export const pathOfPart = (kind: PartKind, collection: string, name: string): string =>
  `${kind}/${collection}-${name}.js`

/** Makes a keeper. Parts are written as they come, so that they need not all fit into memory. */
export function createPartKeeper(
  digest: (text: string) => string,
  writer: PartWriter,
  memory?: UnitMemory,
): PartKeeper {
  const paths = new Map<string, Map<string, number>>()
  /** What the units that are being made have kept so far. */
  const frames: KeptPart[][] = []
  const ofCollection = (collection: string): Map<string, number> => {
    const own = paths.get(collection) ?? new Map<string, number>()
    paths.set(collection, own)
    return own
  }
  const note = (collection: string, part: KeptPart): void => {
    ofCollection(collection).set(part.path, part.sizeBytes)
    for (const frame of frames) frame.push(part)
  }
  const put = (path: string, collection: string, text: string): void =>
    note(collection, { path, sizeBytes: ofCollection(collection).get(path) ?? writer.write(path, text) })
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
    unit<Made>(collection: string, name: string, { isSame, make }: { isSame: boolean; make(): Made }) {
      const key = `${collection} ${name}`
      const known = isSame ? memory?.get(key) : undefined
      if (known) {
        for (const part of known.parts) {
          writer.keep(part.path, part.sizeBytes)
          note(collection, part)
        }
        return known.made as Made
      }
      const parts: KeptPart[] = []
      if (memory) frames.push(parts)
      const made = make()
      if (memory) {
        frames.pop()
        memory.set(key, { made, parts })
      }
      return made
    },
    pathsOf: (collection) => [...(paths.get(collection)?.keys() ?? [])],
  }
}
