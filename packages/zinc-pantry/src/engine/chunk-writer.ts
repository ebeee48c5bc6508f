import { type Chunk, type ChunkMaker, emitChunks } from '../emit/chunk.ts'
import type { Memo } from '../memo/memo.ts'
import type { Publisher } from './publish.ts'

/** Writes the chunks of a collection as they are made. */
export interface ChunkWriter {
  /** Something and its chunks, made again where an input is another one. */
  node<Value>(name: string, inputs: () => readonly unknown[], make: (chunks: ChunkMaker) => Value): Value
  /** The paths of all chunks so far, in the order in which they came. */
  paths(): readonly string[]
}

/** The result of a node without texts: those that are written need not stay in memory. */
interface Written {
  readonly value: unknown
  readonly paths: readonly string[]
}

/** Makes a writer of the chunks of a collection. */
export function createChunkWriter(
  collection: string,
  { memo, publisher, digest }: { readonly memo: Memo; readonly publisher: Publisher; digest(text: string): string },
): ChunkWriter {
  const own = memo.within(collection)
  /** In this run. */
  const present = new Set<string>()
  const write = ({ path, text }: Chunk): string => {
    if (!present.has(path)) publisher.write(path, text)
    present.add(path)
    return path
  }
  return {
    node<Value>(name: string, inputs: () => readonly unknown[], make: (chunks: ChunkMaker) => Value): Value {
      const { value, paths } = own.value(name, memo.isKept ? inputs() : [], (): Written => {
        const emitted = emitChunks(collection, digest, make)
        return { value: emitted.value, paths: emitted.chunks.map(write) }
      })
      for (const path of paths) {
        if (!present.has(path)) publisher.keep(path)
        present.add(path)
      }
      return value as Value
    },
    paths: () => [...present],
  }
}
