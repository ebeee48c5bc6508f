import { handleTypeOf } from '../schema/compile-schema.ts'
import { blockValue } from '../schema/fields/block.ts'
import { propertyName } from '../schema/fields/group.ts'
import { queriedFields } from '../schema/fields/variant.ts'
import type { BlockFields, TypeContext } from '../schema/kind.ts'

/** The types of the query fields of blocks: one for each choice of blocks that fields allow. */
export interface BlockHandles {
  nameOf(key: string, blocks: readonly string[]): string
  /** The texts of all that were named. */
  emit(context: TypeContext): string[]
}

interface Choice {
  readonly name: string
  readonly key: string
  readonly blocks: readonly string[]
}

/** Starts to collect them. Each is an interface of its own, since a block may hold itself. */
export function createBlockHandles(known: BlockFields): BlockHandles {
  const choices = new Map<string, Choice>()
  return {
    nameOf(key, blocks) {
      const id = JSON.stringify([key, blocks])
      // No type of a collection or a block starts like this.
      const choice = choices.get(id) ?? { name: `_Blocks${choices.size + 1}`, key, blocks }
      choices.set(id, choice)
      return choice.name
    },
    emit(context) {
      const texts: string[] = []
      // Those inside of others are named while these are written.
      for (const choice of choices.values()) texts.push(emitChoice(choice, known, context))
      return texts
    },
  }
}

function emitChoice({ name, key, blocks }: Choice, known: BlockFields, context: TypeContext): string {
  const value = blockValue({ kind: 'block', blocks, options: { key } as object }, context)
  const names = blocks.map((block) => JSON.stringify(block)).join(' | ')
  const lines = [...collectHandles(blocks, known, context)].map(
    ([field, handle]) => `  readonly ${propertyName(field)}: ${handle}\n`,
  )
  const own = `  readonly ${propertyName(key)}: $.ChoiceHandle<${names}>\n`
  return `interface ${name} extends $.GroupHandle<${value}> {\n${own}${lines.join('')}}\n`
}

/** The handles of the fields of some blocks; of several, another block has none of them. */
function collectHandles(blocks: readonly string[], known: BlockFields, context: TypeContext): Map<string, string> {
  const handles = new Map<string, string>()
  for (const block of blocks)
    for (const [field, one] of Object.entries(queriedFields(known.get(block) ?? {}))) {
      const type = handleTypeOf(one, context)
      const handle = blocks.length === 1 || type.startsWith('$.Optional<') ? type : `$.Optional<${type}>`
      const other = handles.get(field)
      // Of two fields of one name that are not the same, only the presence can be asked.
      handles.set(field, other === undefined || other === handle ? handle : '$.Optional<$.AnythingHandle>')
    }
  return handles
}
