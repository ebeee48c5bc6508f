import { type ComputeMemory, createComputeMemory } from '../../compute/compute-entries.ts'
import type { EmitMemory } from '../../emit/emit-site.ts'
import type { UnitMemory } from '../../emit/part-keeper.ts'
import type { AddressMemory } from '../../link/check-addresses.ts'
import type { LinkCheckMemory } from '../../link/check-links.ts'
import type { UniqueMemory } from '../../link/check-unique.ts'
import type { LinkMemory } from '../../link/link-entries.ts'
import type { ResolverMemory } from '../../link/link-resolver.ts'
import type { AssignMemory } from '../assigned-files.ts'
import type { CheckedMemory } from '../check-collection.ts'
import type { PublishMemory } from '../publish.ts'
import type { BodyMemory } from '../rendering.ts'

/**
 * What the stages found in earlier runs of the same process: each gives the very object of the last time where its
 * sources are the same, so that the next one knows.
 */
export interface StageMemory {
  readonly assigned: AssignMemory
  readonly checked: CheckedMemory
  readonly linked: LinkMemory
  readonly unique: UniqueMemory
  readonly addresses: AddressMemory
  /** Of all entries, and of those that are to be seen. */
  readonly computed: { readonly whole: ComputeMemory; readonly published: ComputeMemory }
  readonly links: ResolverMemory
  readonly linkChecks: LinkCheckMemory['known']
  readonly emitted: EmittedMemory
}

interface EmittedMemory extends Omit<EmitMemory, 'links'> {
  readonly units: UnitMemory
  readonly bodies: BodyMemory
  readonly published: PublishMemory
  /** Files that entries name by Markdown or in their bodies, or have named. */
  readonly files: Set<string>
  /** Where parts may be missing, all are made again. */
  clear(): void
}

/** Makes an empty memory. */
export function createStageMemory(): StageMemory {
  const collections: EmitMemory['collections'] = new Map()
  const texts: EmitMemory['texts'] = new Map()
  const units: UnitMemory = new Map()
  const bodies: BodyMemory = new Map()
  const clear = (): void => {
    for (const map of [collections, texts, units, bodies]) map.clear()
  }
  return {
    assigned: {},
    checked: new Map(),
    linked: new Map(),
    unique: {},
    addresses: {},
    computed: { whole: createComputeMemory(), published: createComputeMemory() },
    links: { generation: 0 },
    linkChecks: new Map(),
    emitted: {
      collections,
      texts,
      units,
      bodies,
      stored: new Map(),
      types: {},
      published: {},
      files: new Set(),
      clear,
    },
  }
}
