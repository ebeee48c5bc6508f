import type { Model } from '../schema/model.ts'
import type { ChangeStep } from './change.ts'
import type { ConfigurationText } from './configuration-text.ts'
import { collectionSymbol, wordsOf } from './model-names.ts'

/** Gives a file or a folder another path in the patterns of the configuration that begin with it. */
export function renamePatterns(
  { collections }: Model,
  configuration: ConfigurationText,
  { path, to }: { readonly path: string; readonly to: string },
): readonly ChangeStep[] {
  return collections.flatMap(({ name }) =>
    (['files', 'exclude'] as const).flatMap((setting) =>
      configuration
        .textsAt(['collections', name, setting])
        .filter(({ text }) => text === path || text.startsWith(`${path}/`))
        .map(({ file, span: [start] }): ChangeStep => {
          const reason = `${wordsOf(collectionSymbol(name))} is read from ${to}`
          return { kind: 'edit', file, span: [start, start + path.length], text: to, reason }
        }),
    ),
  )
}
