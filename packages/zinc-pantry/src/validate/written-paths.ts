import type { BlockFields } from '../schema/kind.ts'
import type { CollectionModel } from '../schema/model.ts'
import { createWrittenPath, type WrittenPath } from '../schema/written-path.ts'

/** The written paths of the parts of entries and of the properties of blocks. */
export interface WrittenPaths {
  readonly entry: WrittenPath | undefined
  block(name: string): WrittenPath | undefined
}

/** Makes the written paths of the entries of a collection. */
export function createWrittenPaths({ fields }: Pick<CollectionModel, 'fields'>, blocks: BlockFields): WrittenPaths {
  const ofBlocks = new Map([...blocks].map(([name, own]) => [name, createWrittenPath(own, blocks)]))
  return { entry: createWrittenPath(fields, blocks), block: (name) => ofBlocks.get(name) }
}
