import { NAME_LENGTH } from '../query/catalogue.ts'

/** The kinds of chunks, which are the folders of the output. */
export type ChunkKind = 'catalogues' | 'rows' | 'indexes' | 'notes' | 'bodies'

/** A file of the output whose name says its content, so that it never changes. */
export interface Chunk {
  /** Below the generated folder. */
  readonly path: string
  readonly text: string
}

/** Something that was made, and the chunks that it refers to by their names. */
export interface Emitted<Value> {
  readonly value: Value
  readonly chunks: readonly Chunk[]
}

/** Makes chunks of a collection, and gives their names. */
export interface ChunkMaker {
  /** The name is a digest of the text. */
  add(kind: ChunkKind, text: string): string
  /** Several that share a name, a digest of all; their number in the list follows it. */
  addAll(kind: ChunkKind, texts: readonly string[]): string
}

/** The path of a chunk below the generated folder. */
export const pathOfChunk = (kind: ChunkKind, collection: string, name: string): string =>
  `${kind}/${collection}-${name}.js`

/** Makes something that consists of chunks. */
export function emitChunks<Value>(
  collection: string,
  digest: (text: string) => string,
  make: (chunks: ChunkMaker) => Value,
): Emitted<Value> {
  const chunks: Chunk[] = []
  const nameOf = (text: string): string => digest(text).slice(0, NAME_LENGTH)
  const value = make({
    add(kind, text) {
      const name = nameOf(text)
      chunks.push({ path: pathOfChunk(kind, collection, name), text })
      return name
    },
    addAll(kind, texts) {
      const name = nameOf(texts.join(''))
      for (const [number, text] of texts.entries())
        chunks.push({ path: pathOfChunk(kind, collection, `${name}-${number}`), text })
      return name
    },
  })
  return { value, chunks }
}
